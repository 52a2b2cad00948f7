'use client';
import { CHANNEL_KINDS } from '@/core/partners/schema';
import { type Option, Picker } from '@/ui/form/Picker';
import type { Named } from './ForAll';

export interface Matrix {
  partners: Option[];
  groupId: string;
  kinds: string[];
  pages: string;
}

interface MatrixProps {
  matrix: Matrix;
  groups: Named[];
  onChange(matrix: Matrix): void;
}

/** Partners × channels × pages. */
export function MatrixFields({ matrix, groups, onChange }: MatrixProps) {
  const set = (part: Partial<Matrix>): void => onChange({ ...matrix, ...part });
  const { partners, kinds } = matrix;
  return (
    <>
      <div className="field">
        <span className="label">Partners</span>
        <div className="actions">
          {partners.map((partner) => (
            <span key={partner.id} className="pick">
              {partner.label}
              <button
                type="button"
                className="clear"
                style={{ margin: 0 }}
                aria-label={`Without ${partner.label}`}
                onClick={() => set({ partners: partners.filter(({ id }) => id !== partner.id) })}
              >
                ×
              </button>
            </span>
          ))}
          <Picker
            what="Partner"
            none={partners.length === 0 ? 'all active ones' : 'another'}
            value={undefined}
            source="/options/partners?active"
            onPick={(partner) =>
              partner && set({ partners: [...partners.filter(({ id }) => id !== partner.id), partner] })
            }
          />
        </div>
      </div>
      {partners.length === 0 && (
        <div className="field">
          <label htmlFor="many-group">Group</label>
          <select
            id="many-group"
            className="text"
            value={matrix.groupId}
            onChange={({ target }) => set({ groupId: target.value })}
          >
            <option value="">any</option>
            {groups.map(({ id, label }) => (
              <option key={id} value={id}>
                {label}
              </option>
            ))}
          </select>
        </div>
      )}
      <fieldset className="field" style={{ border: 0, padding: 0, margin: '0 0 10px' }}>
        <legend className="label">Channels: {kinds.length === 0 ? 'all' : 'only these kinds'}</legend>
        <div className="actions">
          {CHANNEL_KINDS.map((kind) => (
            <label key={kind} className="pick" style={{ margin: 0, fontSize: 13, color: 'inherit' }}>
              <input
                type="checkbox"
                checked={kinds.includes(kind)}
                onChange={({ target }) =>
                  set({ kinds: target.checked ? [...kinds, kind] : kinds.filter((each) => each !== kind) })
                }
              />{' '}
              {kind}
            </label>
          ))}
        </div>
      </fieldset>
      <div className="field">
        <label htmlFor="many-pages">Pages, one a line; empty for the landing page</label>
        <textarea
          id="many-pages"
          className="text mono"
          rows={5}
          wrap="off"
          value={matrix.pages}
          placeholder="https://larkmoor.example/glaze/ash"
          onChange={({ target }) => set({ pages: target.value })}
        />
      </div>
    </>
  );
}
