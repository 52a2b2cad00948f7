import '@fontsource-variable/figtree/wght.css';
import '@fontsource-variable/red-hat-mono/wght.css';
import '@/ui/theme/base.css';
import '@/ui/theme/shell.css';
import '@/ui/theme/tables.css';
import '@/ui/theme/links.css';
import '@/ui/theme/forms.css';
import '@/ui/theme/lists.css';
import '@/ui/theme/routing.css';
import InitColorSchemeScript from '@mui/material/InitColorSchemeScript';
import type { Metadata } from 'next';
import { headers } from 'next/headers';
import type { ReactNode } from 'react';
import { ThemeRegistry } from '@/ui/theme/ThemeRegistry';

export const metadata: Metadata = { title: { default: 'Brivet', template: '%s · Brivet' } };

export default async function RootLayout({ children }: { children: ReactNode }) {
  const nonce = (await headers()).get('x-nonce') ?? undefined;
  return (
    <html lang="en" suppressHydrationWarning>
      <body>
        <InitColorSchemeScript attribute="data-scheme" defaultMode="light" nonce={nonce} />
        <ThemeRegistry nonce={nonce}>{children}</ThemeRegistry>
      </body>
    </html>
  );
}
