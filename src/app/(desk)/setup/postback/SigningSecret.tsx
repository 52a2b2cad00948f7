'use client';
import Button from '@mui/material/Button';
import { useState } from 'react';
import { Secret } from '../SetupForms';
import { showSigningSecret } from '../actions';

/** Shows the secret that postbacks are signed with, or renews it. */
export function SigningSecret() {
  const [secret, setSecret] = useState<string>();
  const [refused, setRefused] = useState<string>();
  const show = async (renew: boolean): Promise<void> => {
    const state = await showSigningSecret(renew);
    setSecret(state.secret);
    setRefused(state.problems?.[0]?.reason);
  };
  return (
    <>
      <Button variant="outlined" onClick={() => void show(false)}>
        Show the signing secret
      </Button>
      <Button variant="outlined" color="error" onClick={() => void show(true)}>
        Renew the secret
      </Button>
      {refused && <p className="bad">{refused}</p>}
      <Secret text={secret} />
    </>
  );
}
