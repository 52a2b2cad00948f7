'use client';
import Button from '@mui/material/Button';
import Popover from '@mui/material/Popover';
import { usePathname, useRouter, useSearchParams } from 'next/navigation';
import { type FormEvent, useState } from 'react';
import { type Filter, writeFilters } from '@/core/reports/columns';

const HOW_WORDS = { is: 'is', not: 'is not', has: 'contains' } as const;

interface Props {
  filters: readonly Filter[];
  /** What can be asked for, in the order in which it is offered. */
  fields: readonly { readonly id: string; readonly label: string }[];
  /** Names of what IDs stand for, by "field text". */
  names?: Readonly<Record<string, string>>;
}

/** What narrows a list beyond the scope; it stands in the address. */
export function FilterBar({ filters, fields, names = {} }: Props) {
  const word = (field: string): string => fields.find(({ id }) => id === field)?.label ?? field;
  const router = useRouter();
  const path = usePathname();
  const search = useSearchParams();
  const [anchor, setAnchor] = useState<HTMLElement | null>(null);
  const put = (next: readonly Filter[]): void => {
    const params = new URLSearchParams(search);
    for (const name of ['page', 'trace']) params.delete(name);
    const text = writeFilters(next);
    if (text === undefined) params.delete('where');
    else params.set('where', text);
    router.push(`${path}?${params.toString()}`);
  };
  const add = (event: FormEvent<HTMLFormElement>): void => {
    event.preventDefault();
    const form = new FormData(event.currentTarget);
    setAnchor(null);
    const how = (['is', 'not', 'has'] as const).find((each) => each === form.get('how')) ?? 'is';
    put([...filters, { field: String(form.get('field')), how, text: String(form.get('text')).trim() }]);
  };
  return (
    <div className="filters" role="group" aria-label="Filters">
      {filters.map((filter, i) => {
        const { field, how, text } = filter;
        const shown = names[`${field} ${text}`] ?? (text === '' ? 'empty' : text);
        return (
          <span key={i} className="chip">
            {word(field)} <span className="mute">{HOW_WORDS[how]}</span> <b>{shown}</b>
            <button
              type="button"
              className="clear"
              aria-label={`Without ${word(field)} ${HOW_WORDS[how]} ${shown}`}
              onClick={() => put(filters.filter((each) => each !== filter))}
            >
              ×
            </button>
          </span>
        );
      })}
      <button type="button" className="pick" aria-haspopup="dialog" onClick={(event) => setAnchor(event.currentTarget)}>
        + Filter
      </button>
      <Popover
        open={anchor !== null}
        anchorEl={anchor}
        onClose={() => setAnchor(null)}
        anchorOrigin={{ vertical: 'bottom', horizontal: 'left' }}
        slotProps={{ paper: { role: 'dialog', 'aria-label': 'Add a filter' } }}
      >
        <form className="stack" style={{ padding: 12, width: 300 }} onSubmit={add}>
          <div className="pair">
            <select className="text" name="field" aria-label="What" style={{ flex: 1 }}>
              {fields.map(({ id, label }) => (
                <option key={id} value={id}>
                  {label}
                </option>
              ))}
            </select>
            <select className="text" name="how" aria-label="How">
              {Object.entries(HOW_WORDS).map(([how, words]) => (
                <option key={how} value={how}>
                  {words}
                </option>
              ))}
            </select>
          </div>
          <input className="text" name="text" aria-label="Value" placeholder="Value; nothing for empty" autoFocus />
          <Button type="submit" variant="contained">
            Add filter
          </Button>
        </form>
      </Popover>
    </div>
  );
}
