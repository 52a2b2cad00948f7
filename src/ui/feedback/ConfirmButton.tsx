'use client';
import Button, { type ButtonProps } from '@mui/material/Button';
import Dialog from '@mui/material/Dialog';
import DialogActions from '@mui/material/DialogActions';
import DialogContent from '@mui/material/DialogContent';
import DialogContentText from '@mui/material/DialogContentText';
import DialogTitle from '@mui/material/DialogTitle';
import TextField from '@mui/material/TextField';
import { type ReactNode, useActionState, useState } from 'react';

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
  const [state, submit, busy] = useActionState(async (before: ActionState, form: FormData) => {
    const after = await action(before, form);
    if (!after.problems) setOpen(false);
    return after;
  }, {});
  const problem = (field: string): string | undefined => state.problems?.find((each) => each.field === field)?.reason;
  const general = state.problems?.filter(({ field }) => field !== 'reason' && field !== 'amount') ?? [];
  return (
    <>
      <Button variant={variant} color={color} onClick={() => setOpen(true)}>
        {label}
      </Button>
      <Dialog
        open={open}
        onClose={() => !busy && setOpen(false)}
        maxWidth="xs"
        fullWidth
        aria-labelledby="confirm-title"
      >
        <form action={submit}>
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
            {busy && working}
          </DialogContent>
          <DialogActions sx={{ px: 3, pb: 2 }}>
            <Button onClick={() => setOpen(false)} disabled={busy}>
              Cancel
            </Button>
            <Button type="submit" variant="contained" color={color} disabled={busy} autoFocus={!reason}>
              {label}
            </Button>
          </DialogActions>
        </form>
      </Dialog>
    </>
  );
}
