'use client';
import Button from '@mui/material/Button';
import { useRouter } from 'next/navigation';
import { useState } from 'react';
import type { ActionState } from '@/ui/feedback/ConfirmButton';
import { FormDialog } from '@/ui/form/FormDialog';
import { record } from './actions';

const FIELDS = [
  ['click_id', 'Click ID', 'Or a coupon below'],
  ['code', 'Coupon', ''],
  ['event', 'Event', ''],
  ['order', 'Order', ''],
  ['amount', 'Amount', 'The whole price, like 121.00'],
  ['tax', 'Tax in it', ''],
  ['currency', 'Currency', 'Empty: the program’s own'],
  ['time', 'When', 'ISO 8601; empty: now'],
  ['completed', 'Delivered or done on', ''],
] as const;

export const RecordByHand = ({ events }: { events: readonly string[] }) => (
  <FormDialog label="Record by hand" title="A conversion that was not reported">
    {(close) => <HandForm events={events} close={close} />}
  </FormDialog>
);

function HandForm({ events, close }: { events: readonly string[]; close(): void }) {
  const router = useRouter();
  const [fields, setFields] = useState<Record<string, string>>({ event: events[0] ?? 'order' });
  const [problems, setProblems] = useState<ActionState['problems']>();
  const save = async (): Promise<void> => {
    const state = await record(fields);
    setProblems(state.problems);
    if (state.problems) return;
    close();
    router.refresh();
  };
  return (
    <div className="stack" style={{ gap: 4 }}>
      <p className="small mute">It is matched and rated like any other; its history says who recorded it.</p>
      <div className="form narrow" style={{ gap: '0 12px' }}>
        {FIELDS.map(([name, label, help]) => (
          <div key={name} className="field">
            <label>
              {label}
              {name === 'event' ? (
                <select
                  className="text"
                  value={fields.event}
                  onChange={({ target }) => setFields({ ...fields, event: target.value })}
                >
                  {events.map((event) => (
                    <option key={event}>{event}</option>
                  ))}
                </select>
              ) : (
                <input
                  className="text"
                  type={name === 'completed' ? 'date' : 'text'}
                  value={fields[name] ?? ''}
                  placeholder={help}
                  onChange={({ target }) => setFields({ ...fields, [name]: target.value })}
                />
              )}
            </label>
          </div>
        ))}
      </div>
      {problems?.map(({ field, reason }) => (
        <p key={field + reason} className="bad">
          {reason}
        </p>
      ))}
      <div className="actions">
        <Button variant="contained" onClick={() => void save()}>
          Record it
        </Button>
      </div>
    </div>
  );
}
