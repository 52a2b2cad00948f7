'use client';
import { AppRouterCacheProvider } from '@mui/material-nextjs/v16-appRouter';
import { ThemeProvider } from '@mui/material/styles';
import type { ReactNode } from 'react';
import { theme } from './theme';

export function ThemeRegistry({ nonce, children }: { nonce: string | undefined; children: ReactNode }) {
  return (
    <AppRouterCacheProvider options={{ nonce, key: 'b' }}>
      <ThemeProvider theme={theme} defaultMode="light">
        {children}
      </ThemeProvider>
    </AppRouterCacheProvider>
  );
}
