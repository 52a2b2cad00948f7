'use client';
import Alert from '@mui/material/Alert';
import Snackbar from '@mui/material/Snackbar';
import { useState } from 'react';

export interface NoticeText {
  id: string;
  kind: 'success' | 'error';
  text: string;
}

/** Says once what an action did or why it did not; errors stay until they are closed. */
export function Notice({ notice }: { notice: NoticeText | undefined }) {
  const [shown, setShown] = useState(notice);
  const [closed, setClosed] = useState<string>();
  // The next screen no longer carries the notice; it stays until it was read.
  if (notice && notice.id !== shown?.id) setShown(notice);
  if (!shown) return null;
  const close = (): void => setClosed(shown.id);
  return (
    <Snackbar
      open={closed !== shown.id}
      autoHideDuration={shown.kind === 'error' ? null : 6000}
      onClose={(_, reason) => reason !== 'clickaway' && close()}
      anchorOrigin={{ vertical: 'bottom', horizontal: 'left' }}
    >
      <Alert severity={shown.kind} variant="filled" onClose={close}>
        {shown.text}
      </Alert>
    </Snackbar>
  );
}
