'use client';
import Button from '@mui/material/Button';
import Dialog from '@mui/material/Dialog';
import DialogContent from '@mui/material/DialogContent';
import DialogTitle from '@mui/material/DialogTitle';
import { type ReactNode, useId, useState } from 'react';

interface Props {
  label: string;
  title: string;
  variant?: 'outlined' | 'contained' | 'text';
  wide?: boolean;
  children(close: () => void): ReactNode;
}

/** A button that opens a form in a dialog; the form closes it once it is saved. */
export function FormDialog({ label, title, variant = 'outlined', wide, children }: Props) {
  const [open, setOpen] = useState(false);
  const titleId = useId();
  return (
    <>
      <Button variant={variant} onClick={() => setOpen(true)}>
        {label}
      </Button>
      <Dialog
        open={open}
        onClose={() => setOpen(false)}
        maxWidth={wide ? 'md' : 'sm'}
        fullWidth
        aria-labelledby={titleId}
      >
        <div className="dialog-head">
          <DialogTitle id={titleId} sx={{ fontSize: 17 }}>
            {title}
          </DialogTitle>
          <button type="button" className="clear" aria-label="Close" title="Close (Esc)" onClick={() => setOpen(false)}>
            ×
          </button>
        </div>
        <DialogContent sx={{ pt: 0.5 }}>{children(() => setOpen(false))}</DialogContent>
      </Dialog>
    </>
  );
}
