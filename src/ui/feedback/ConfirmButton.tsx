'use client';
import Box from '@mui/material/Box';
import Button, { type ButtonProps } from '@mui/material/Button';
import Dialog from '@mui/material/Dialog';
import DialogActions from '@mui/material/DialogActions';
import DialogContent from '@mui/material/DialogContent';
import DialogContentText from '@mui/material/DialogContentText';
import DialogTitle from '@mui/material/DialogTitle';
import TextField from '@mui/material/TextField';
import { type FormEvent, type ReactNode, useState, useTransition } from 'react';

export interface ActionState {
  problems?: readonly { field: string; reason: string }[];
  done?: string;
}
interface Props {
  label: string;
  title: string;
  /** What follows from it, in plain words. */
  consequences: ReactNode;
  action: (state: ActionState, form: FormData) => Promise<ActionState>;
  /** Fields sent along. */
  values?: Record<string, string | number>;
  /** Asks for a reason, which is kept. */
  reason?: boolean;
  extra?: ReactNode;
  /** Shown while it acts. */
  working?: ReactNode;
  color?: ButtonProps['color'];
  variant?: ButtonProps['variant'];
}

/** A button for what cannot be undone: says the consequences, asks for a reason where one is kept, then acts. */
export function ConfirmButton({
  label,
  title,
  consequences,
  action,
  values = {},
  reason = false,
  extra,
  working,
  color,
  variant = 'outlined',
}: Props) {
  const [open, setOpen] = useState(false);
  const [problems, setProblems] = useState<NonNullable<ActionState['problems']>>([]);
  const [busy, start] = useTransition();
  const show = (): void => {
    setProblems([]);
    setOpen(true);
  };
  // As an action of the form it would empty the fields, also when it was refused.
  const submit = (event: FormEvent<HTMLFormElement>): void => {
    event.preventDefault();
    const form = new FormData(event.currentTarget);
    start(async () => {
      const after = await action({}, form);
      setProblems(after.problems ?? []);
      if (!after.problems) setOpen(false);
    });
  };
  const problem = (field: string): string | undefined => problems.find((each) => each.field === field)?.reason;
  const general = problems.filter(({ field }) => field !== 'amount' && !(reason && field === 'reason'));
  return (
    <>
      <Button variant={variant} color={color} onClick={show}>
        {label}
      </Button>
      <Dialog
        open={open}
        onClose={() => !busy && setOpen(false)}
        maxWidth="xs"
        fullWidth
        aria-labelledby="confirm-title"
      >
        <form onSubmit={submit}>
          <DialogTitle id="confirm-title" sx={{ fontSize: 17, pb: 1 }}>
            {title}
          </DialogTitle>
          <DialogContent>
            <DialogContentText component="div" sx={{ fontSize: 13.5 }}>
              {consequences}
            </DialogContentText>
            {Object.entries(values).map(([name, value]) => (
              <input key={name} type="hidden" name={name} value={value} />
            ))}
            {extra}
            {problem('amount') && <p className="bad">{problem('amount')}</p>}
            {reason && (
              <TextField
                name="reason"
                label="Reason"
                autoFocus
                multiline
                minRows={2}
                sx={{ mt: 2 }}
                error={problem('reason') !== undefined}
                helperText={problem('reason')}
              />
            )}
            {general.map(({ reason: text }) => (
              <p key={text} className="bad" role="alert">
                {text}
              </p>
            ))}
            {busy && working && <Box sx={{ mt: 2 }}>{working}</Box>}
          </DialogContent>
          <DialogActions sx={{ px: 3, pb: 2 }}>
            {!(busy && working) && (
              <Button onClick={() => setOpen(false)} disabled={busy}>
                Cancel
              </Button>
            )}
            <Button type="submit" variant="contained" color={color} disabled={busy} autoFocus={!reason}>
              {label}
            </Button>
          </DialogActions>
        </form>
      </Dialog>
    </>
  );
}
