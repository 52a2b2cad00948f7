'use client';
import Button from '@mui/material/Button';
import { useState } from 'react';

/** Copies a text and says so. */
export function CopyButton({ text, label = 'Copy' }: { text: string; label?: string }) {
  const [copied, setCopied] = useState<string>();
  const copy = async (): Promise<void> => {
    await navigator.clipboard.writeText(text);
    setCopied(text);
  };
  return (
    <Button variant="outlined" onClick={() => void copy()}>
      {copied === text ? 'Copied' : label}
    </Button>
  );
}
