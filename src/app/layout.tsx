import type { Metadata } from 'next';
import { headers } from 'next/headers';
import type { ReactNode } from 'react';
import { Shell } from '@/ui/shell/Shell';
import './globals.css';

export const metadata: Metadata = {
  title: 'Undercroft',
  description: 'From a recording to a playable drum kit.',
};

/** Sets the theme before anything is drawn, so that a lamplit page never flashes white. */
const THEME = `document.documentElement.dataset.theme = localStorage.getItem('undercroft.theme') ?? 'daylight'`;

export default async function Layout({ children }: { children: ReactNode }) {
  // Asking for a request's headers also keeps pages from being made beforehand, without the nonce of their answer.
  const policy = (await headers()).get('content-security-policy') ?? '';
  const nonce = /'nonce-([^']+)'/.exec(policy)?.[1];
  return (
    <html lang="en" suppressHydrationWarning>
      <head>
        <link rel="icon" href="/arch.svg" type="image/svg+xml" />
        {/* biome-ignore lint/security/noDangerouslySetInnerHtml: a constant of this file */}
        <script nonce={nonce} suppressHydrationWarning dangerouslySetInnerHTML={{ __html: THEME }} />
      </head>
      <body>
        <Shell>{children}</Shell>
      </body>
    </html>
  );
}
