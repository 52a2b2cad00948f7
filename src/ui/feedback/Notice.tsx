'use client';
import Alert from '@mui/material/Alert';
import Snackbar from '@mui/material/Snackbar';
import { useEffect, useState } from 'react';

export interface NoticeText {
  id: string;
  kind: 'success' | 'error';
  text: string;
}

/** Says once what an action did or why it did not; errors stay until they are closed. */
export function Notice({ notice }: { notice: NoticeText | undefined }) {
  const [shown, setShown] = useState<NoticeText>();
  const [open, setOpen] = useState(false);
  useEffect(() => {
    if (!notice || sessionStorage.getItem('notice') === notice.id) return;
    sessionStorage.setItem('notice', notice.id);
    setShown(notice);
    setOpen(true);
  }, [notice]);
  if (!shown) return null;
  return (
    <Snackbar
      open={open}
      autoHideDuration={shown.kind === 'error' ? null : 6000}
      onClose={(_, reason) => reason !== 'clickaway' && setOpen(false)}
      anchorOrigin={{ vertical: 'bottom', horizontal: 'left' }}
    >
      <Alert severity={shown.kind} variant="filled" onClose={() => setOpen(false)}>
        {shown.text}
      </Alert>
    </Snackbar>
  );
}
