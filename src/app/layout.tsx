import type { Metadata } from 'next';
import type { ReactNode } from 'react';
import { Shell } from '@/ui/shell/Shell';
import './globals.css';

export const metadata: Metadata = {
  title: 'Undercroft',
  description: 'From a recording to a playable drum kit.',
};

/** Sets the theme before anything is drawn, so that a lamplit page never flashes white. */
const THEME = `document.documentElement.dataset.theme = localStorage.getItem('undercroft.theme') ?? 'daylight'`;

export default function Layout({ children }: { children: ReactNode }) {
  return (
    <html lang="en" suppressHydrationWarning>
      <head>
        <link rel="icon" href="/arch.svg" type="image/svg+xml" />
        {/* biome-ignore lint/security/noDangerouslySetInnerHtml: a constant of this file */}
        <script dangerouslySetInnerHTML={{ __html: THEME }} />
      </head>
      <body>
        <Shell>{children}</Shell>
      </body>
    </html>
  );
}
