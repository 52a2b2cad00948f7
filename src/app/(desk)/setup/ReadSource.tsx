'use client';
import { useState } from 'react';
import { FileText } from '@/ui/form/FileText';
import { FormDialog } from '@/ui/form/FormDialog';
import Button from '@mui/material/Button';
import { readSourceFile } from './actions';

/** Reads a preset from a JSON file; what is wrong in it is named by its path. */
export const ReadSource = () => (
  <FormDialog label="Import" title="Import a source" variant="outlined">
    {(close) => <FileForm onDone={close} />}
  </FormDialog>
);

function FileForm({ onDone }: { onDone(): void }) {
  const [text, setText] = useState('');
  const [problems, setProblems] = useState<readonly { field: string; reason: string }[]>([]);
  const read = async (): Promise<void> => {
    const state = await readSourceFile(text);
    setProblems(state.problems ?? []);
    if (!state.problems) onDone();
  };
  return (
    <div className="stack">
      <FileText
        id="source-file"
        label="A source preset as JSON"
        value={text}
        placeholder={'{ "format": "brivet-source", "version": 1, "name": … }'}
        onChange={setText}
      />
      <p className="mute small">
        The form of the file is described at <a href="/schemas/source-preset">/schemas/source-preset</a>.
      </p>
      {problems.map(({ field, reason }) => (
        <p key={field + reason} className="bad" role="alert">
          {reason}
        </p>
      ))}
      <div>
        <Button variant="contained" onClick={() => void read()}>
          Import source
        </Button>
      </div>
    </div>
  );
}
