'use client';
import Button from '@mui/material/Button';
import Popover from '@mui/material/Popover';
import { useRouter } from 'next/navigation';
import { useState } from 'react';
import type { ActionState } from '../feedback/ConfirmButton';
import { SortableList } from '../list/SortableList';

export interface ColumnName {
  id: string;
  label: string;
}
interface Props {
  all: readonly ColumnName[];
  chosen: readonly string[];
  /** Keeps the choice for whoever is signed in; undefined goes back to the usual columns. */
  save(columns: string[] | undefined): Promise<ActionState>;
}

/** Which columns a list has and in which order, kept per person. */
export function ColumnChooser({ all, chosen, save }: Props) {
  const router = useRouter();
  const [anchor, setAnchor] = useState<HTMLElement | null>(null);
  const [columns, setColumns] = useState<readonly string[]>(chosen);
  const labelOf = (id: string): string => all.find((each) => each.id === id)?.label ?? id;
  const others = all.filter(({ id }) => !columns.includes(id));
  const keep = async (next: string[] | undefined): Promise<void> => {
    setAnchor(null);
    await save(next);
    router.refresh();
  };
  return (
    <>
      <button
        type="button"
        className="pick"
        aria-haspopup="dialog"
        onClick={({ currentTarget }) => {
          setColumns(chosen);
          setAnchor(currentTarget);
        }}
      >
        Columns <span className="what">{chosen.length}</span>
      </button>
      <Popover
        open={anchor !== null}
        anchorEl={anchor}
        onClose={() => setAnchor(null)}
        anchorOrigin={{ vertical: 'bottom', horizontal: 'right' }}
        transformOrigin={{ vertical: 'top', horizontal: 'right' }}
        slotProps={{ paper: { role: 'dialog', 'aria-label': 'Columns' } }}
      >
        <div className="chooser">
          <div>
            <p className="label">In this order</p>
            <SortableList
              items={columns}
              idOf={(id) => id}
              nameOf={labelOf}
              onOrder={setColumns}
              label="Chosen columns"
            >
              {(id) => (
                <>
                  <span className="grow">{labelOf(id)}</span>
                  <button
                    type="button"
                    className="clear"
                    aria-label={`Leave out ${labelOf(id)}`}
                    disabled={columns.length === 1}
                    onClick={() => setColumns(columns.filter((each) => each !== id))}
                  >
                    ×
                  </button>
                </>
              )}
            </SortableList>
          </div>
          <div>
            <p className="label">Left out</p>
            <div className="words">
              {others.map(({ id, label }) => (
                <button key={id} type="button" className="pick" onClick={() => setColumns([...columns, id])}>
                  + {label}
                </button>
              ))}
            </div>
          </div>
          <div className="actions whole">
            <Button variant="contained" onClick={() => void keep([...columns])}>
              Keep these columns
            </Button>
            <Button onClick={() => void keep(undefined)}>The usual ones</Button>
          </div>
        </div>
      </Popover>
    </>
  );
}
