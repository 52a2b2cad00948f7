'use client';
import { type DragEvent, useState } from 'react';

interface Props {
  id: string;
  label: string;
  value: string;
  placeholder: string;
  mostMegabytes?: number;
  onChange(text: string): void;
}

/** Lines to paste, or a file to choose or drop. A file is read here, in UTF-8 or, failing that, Windows-1252. */
export function FileText({ id, label, value, placeholder, mostMegabytes = 10, onChange }: Props) {
  const [problem, setProblem] = useState<string>();
  const [readAs, setReadAs] = useState<string>();
  const read = async (file: File | undefined): Promise<void> => {
    if (!file) return;
    if (file.size > mostMegabytes * 1024 * 1024)
      return setProblem(`${file.name} is larger than ${mostMegabytes} MB. Split it.`);
    const bytes = await file.arrayBuffer();
    setProblem(undefined);
    try {
      onChange(new TextDecoder('utf-8', { fatal: true }).decode(bytes));
      setReadAs(`${file.name}, read as UTF-8`);
    } catch {
      onChange(new TextDecoder('windows-1252').decode(bytes));
      setReadAs(`${file.name}, read as Windows-1252`);
    }
  };
  const drop = (event: DragEvent): void => {
    event.preventDefault();
    void read(event.dataTransfer.files[0]);
  };
  return (
    <div className="field" onDragOver={(event) => event.preventDefault()} onDrop={drop}>
      <label htmlFor={id}>{label}</label>
      <textarea
        id={id}
        className="text mono"
        rows={7}
        wrap="off"
        spellCheck={false}
        value={value}
        placeholder={placeholder}
        onChange={({ target }) => onChange(target.value)}
      />
      <div className="actions" style={{ marginTop: 4 }}>
        <label className="pick" style={{ margin: 0, fontSize: 13, color: 'inherit' }}>
          Choose a file
          <input
            type="file"
            accept=".csv,.tsv,.txt,text/csv,text/plain,application/json"
            className="skip"
            onChange={({ target }) => void read(target.files?.[0])}
          />
        </label>
        <span className="mute small" role="status">
          {readAs ?? 'or drop one here'}
        </span>
      </div>
      {problem && <p className="bad">{problem}</p>}
    </div>
  );
}
