'use client';
import Button from '@mui/material/Button';

export default function ErrorPage({ error, reset }: { error: Error & { digest?: string }; reset(): void }) {
  return (
    <div className="sign" role="alert">
      <h1>This screen could not be shown</h1>
      <p className="mute">
        Nothing was changed. The log of the web process says why{error.digest && `, under ${error.digest}`}.
      </p>
      <div>
        <Button variant="contained" onClick={reset}>
          Try again
        </Button>
      </div>
    </div>
  );
}
