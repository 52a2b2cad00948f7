'use client';
import Divider from '@mui/material/Divider';
import Menu from '@mui/material/Menu';
import MenuItem from '@mui/material/MenuItem';
import { useColorScheme } from '@mui/material/styles';
import { useState } from 'react';

/** Who is signed in, the colour scheme, and the way out. */
export function PersonMenu({ name, role, signOut }: { name: string; role: string; signOut: () => Promise<void> }) {
  const [anchor, setAnchor] = useState<HTMLElement | null>(null);
  const { mode, setMode } = useColorScheme();
  const choose = (to: 'light' | 'dark' | 'system') => () => {
    setMode(to);
    setAnchor(null);
  };
  return (
    <>
      <button className="who" type="button" aria-haspopup="menu" onClick={(event) => setAnchor(event.currentTarget)}>
        {name} ▾
      </button>
      <Menu anchorEl={anchor} open={anchor !== null} onClose={() => setAnchor(null)}>
        <MenuItem disabled dense>
          Signed in as {role}
        </MenuItem>
        <Divider />
        {(['light', 'dark', 'system'] as const).map((scheme) => (
          <MenuItem key={scheme} dense selected={mode === scheme} onClick={choose(scheme)}>
            {scheme === 'system' ? 'As the system' : scheme === 'dark' ? 'Dark' : 'Light'}
          </MenuItem>
        ))}
        <Divider />
        <MenuItem dense onClick={() => void signOut()}>
          Sign out
        </MenuItem>
      </Menu>
    </>
  );
}
