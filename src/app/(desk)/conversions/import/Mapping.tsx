'use client';
import { DATE_FORMS, DELIMITERS, FILE_FIELDS, type FileReading } from '@/core/conversions/file';
import { Choice } from '@/ui/form/Choice';
import type { Proposed } from './ReadFile';

interface Props {
  proposed: Proposed;
  source: string;
  onChange(reading: FileReading): void;
}

const own = (head: string): string =>
  `x_${head
    .toLowerCase()
    .replace(/[^a-z0-9]+/g, '_')
    .replace(/^_|_$/g, '')
    .slice(0, 40)}`;

/** How the file is read, and which of its columns says what; with the first lines to see whether it is right. */
export function Mapping({ proposed: { reading, head, sample, remembered }, source, onChange }: Props) {
  const set = (part: Partial<FileReading>): void => onChange({ ...reading, ...part });
  return (
    <fieldset className="choices" style={{ display: 'block' }}>
      <legend>
        {remembered ? `Read as the last file of ${source} was` : 'Read as it looks'}; change what is wrong
      </legend>
      <div className="form narrow" style={{ gridTemplateColumns: 'repeat(4, minmax(0, 1fr))', gap: '0 12px' }}>
        <Choice
          label="Between columns"
          value={reading.delimiter}
          options={Object.entries(DELIMITERS) as [FileReading['delimiter'], string][]}
          onChange={(delimiter) => set({ delimiter })}
        />
        <Choice
          label="Decimal sign"
          value={reading.decimal}
          options={[
            [',', 'comma, 1.299,00'],
            ['.', 'point, 1,299.00'],
          ]}
          onChange={(decimal) => set({ decimal })}
        />
        <Choice
          label="Dates"
          value={reading.dates}
          options={Object.entries(DATE_FORMS) as [FileReading['dates'], string][]}
          onChange={(dates) => set({ dates })}
        />
        <div className="field">
          <label>
            Event of lines without one
            <input className="text" value={reading.event} onChange={({ target }) => set({ event: target.value })} />
          </label>
        </div>
      </div>
      <div style={{ overflowX: 'auto' }}>
        <table className="records" aria-label="Columns">
          <thead>
            <tr>
              {head.map((name, i) => (
                <th key={`${name}${i}`} scope="col">
                  {name || `column ${i + 1}`}
                </th>
              ))}
            </tr>
            <tr>
              {head.map((name, i) => (
                <th key={`${name}${i}`}>
                  <select
                    className="text"
                    aria-label={`${name} says`}
                    value={reading.columns[i] ?? ''}
                    onChange={({ target }) =>
                      set({ columns: head.map((_, at) => (at === i ? target.value : (reading.columns[at] ?? ''))) })
                    }
                  >
                    <option value="">not read</option>
                    {FILE_FIELDS.map((field) => (
                      <option key={field} value={field}>
                        {field}
                      </option>
                    ))}
                    <option value={own(name)}>{own(name)}</option>
                  </select>
                </th>
              ))}
            </tr>
          </thead>
          <tbody>
            {sample.map((cells, at) => (
              <tr key={at}>
                {head.map((name, i) => (
                  <td key={`${name}${i}`} className="nowrap mute">
                    {cells[i]}
                  </td>
                ))}
              </tr>
            ))}
          </tbody>
        </table>
      </div>
    </fieldset>
  );
}
