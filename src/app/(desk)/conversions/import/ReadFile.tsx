'use client';
import Button from '@mui/material/Button';
import { type ReactNode, useState } from 'react';
import type { FileReading } from '@/core/conversions/file';
import { FileText } from '@/ui/form/FileText';
import { readingOf } from '../actions';
import { Mapping } from './Mapping';

/** Enough of a file to see how it is written. */
const LOOKED_AT = 64_000;

export interface Proposed {
  readonly reading: FileReading;
  readonly head: readonly string[];
  readonly sample: readonly (readonly string[])[];
  readonly remembered: boolean;
}
interface Read {
  readonly text: string;
  readonly source: string;
  readonly reading: FileReading;
}
interface Props {
  sources: readonly string[];
  placeholder: string;
  /** Another file, or read in another way: what was found is not true any more. */
  onChange(): void;
  /** What is done with it, once it is seen how it is read. */
  children(read: Read): ReactNode;
}

/** A file of conversions, whose it is, and how it is read: detected, remembered by its source, and shown. */
export function ReadFile({ sources, placeholder, onChange, children }: Props) {
  const [source, setSource] = useState(sources[0] ?? '');
  const [text, setText] = useState('');
  const [proposed, setProposed] = useState<Proposed>();
  const [refused, setRefused] = useState<string>();
  const look = async (): Promise<void> => {
    const found = await readingOf({ text: text.slice(0, LOOKED_AT), source });
    setRefused('refused' in found ? found.refused : undefined);
    setProposed('answer' in found ? found.answer : undefined);
  };
  return (
    <div className="pad stack">
      <div className="form narrow" style={{ gap: '0 12px' }}>
        <div className="field">
          <label htmlFor="import-source">Whose file it is; how it is read is remembered by this name</label>
          <input
            id="import-source"
            className="text"
            list="import-sources"
            value={source}
            onChange={({ target }) => setSource(target.value)}
          />
          <datalist id="import-sources">
            {sources.map((name) => (
              <option key={name} value={name} />
            ))}
          </datalist>
        </div>
      </div>
      <FileText
        id="import-lines"
        label="CSV with a head of column names"
        value={text.length > LOOKED_AT ? `${text.slice(0, LOOKED_AT)}\n…` : text}
        placeholder={placeholder}
        mostMegabytes={30}
        onChange={(next) => {
          setText(next);
          setProposed(undefined);
          onChange();
        }}
      />
      {!proposed && (
        <div className="actions">
          <Button variant="contained" disabled={text.trim() === '' || source.trim() === ''} onClick={() => void look()}>
            See how it is read
          </Button>
          {refused && <p className="bad">{refused}</p>}
        </div>
      )}
      {proposed && (
        <>
          <Mapping
            proposed={proposed}
            source={source}
            onChange={(reading) => {
              setProposed({ ...proposed, reading });
              onChange();
            }}
          />
          {children({ text, source, reading: proposed.reading })}
        </>
      )}
    </div>
  );
}
