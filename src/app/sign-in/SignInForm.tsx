'use client';
import Button from '@mui/material/Button';
import TextField from '@mui/material/TextField';
import { useActionState } from 'react';
import { signInAction } from './actions';

export function SignInForm() {
  const [state, submit, busy] = useActionState(signInAction, {});
  const problem = (field: string): string | undefined => state.problems?.find((each) => each.field === field)?.reason;
  return (
    <form action={submit} className="stack" noValidate>
      <TextField
        name="email"
        label="E-mail"
        type="email"
        autoComplete="username"
        autoFocus
        defaultValue={state.email ?? ''}
        key={state.email}
        error={!!problem('email')}
        helperText={problem('email')}
      />
      <TextField
        name="password"
        label="Password"
        type="password"
        autoComplete="current-password"
        error={!!problem('password')}
        helperText={problem('password')}
      />
      {problem('') && (
        <p className="note trouble" role="alert">
          {problem('')}
        </p>
      )}
      <Button type="submit" variant="contained" size="medium" disabled={busy}>
        Sign in
      </Button>
    </form>
  );
}
