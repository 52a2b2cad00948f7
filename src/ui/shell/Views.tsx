'use client';
import Button from '@mui/material/Button';
import Popover from '@mui/material/Popover';
import Link from 'next/link';
import { useRouter } from 'next/navigation';
import { type FormEvent, useState } from 'react';
import type { ActionState } from '../feedback/ConfirmButton';

interface Props {
  views: readonly { id: number; name: string; address: string }[];
  keep(name: string, address: string): Promise<ActionState>;
  drop(id: number): Promise<ActionState>;
}

/** Screens kept under names, with their scope, filters and grouping. */
export function Views({ views, keep, drop }: Props) {
  const router = useRouter();
  const [anchor, setAnchor] = useState<HTMLElement | null>(null);
  const [problem, setProblem] = useState<string>();
  const done = (state: ActionState): void => {
    setProblem(state.problems?.[0]?.reason);
    if (!state.problems) router.refresh();
  };
  const submit = async (event: FormEvent<HTMLFormElement>): Promise<void> => {
    event.preventDefault();
    const name = String(new FormData(event.currentTarget).get('name'));
    const { pathname, search } = window.location;
    done(await keep(name, pathname + search));
  };
  return (
    <>
      <button
        type="button"
        className="pick"
        style={{ marginLeft: 'auto' }}
        aria-haspopup="dialog"
        onClick={({ currentTarget }) => setAnchor(currentTarget)}
      >
        Views <span className="what">{views.length}</span>
      </button>
      <Popover
        open={anchor !== null}
        anchorEl={anchor}
        onClose={() => setAnchor(null)}
        anchorOrigin={{ vertical: 'bottom', horizontal: 'right' }}
        transformOrigin={{ vertical: 'top', horizontal: 'right' }}
        slotProps={{ paper: { role: 'dialog', 'aria-label': 'Views' } }}
      >
        <div style={{ padding: 12, width: 300 }}>
          {views.length === 0 && <p className="mute small">What you look at often can be kept under a name.</p>}
          {views.map(({ id, name, address }) => (
            <div key={id} className="pair middle-row">
              <Link className="grow narrow" href={address} onClick={() => setAnchor(null)}>
                {name}
              </Link>
              <button
                type="button"
                className="clear"
                aria-label={`Drop ${name}`}
                onClick={() => void drop(id).then(done)}
              >
                ×
              </button>
            </div>
          ))}
          <form className="pair" style={{ marginTop: 10 }} onSubmit={(event) => void submit(event)}>
            <input
              className="text"
              name="name"
              aria-label="Name of this view"
              placeholder="Name of this view"
              required
              maxLength={60}
            />
            <Button type="submit" variant="outlined">
              Keep
            </Button>
          </form>
          {problem && <p className="bad">{problem}</p>}
        </div>
      </Popover>
    </>
  );
}
