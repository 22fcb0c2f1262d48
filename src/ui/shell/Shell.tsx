'use client';

import { notifyManager, QueryClient, QueryClientProvider } from '@tanstack/react-query';
import dynamic from 'next/dynamic';
import { type ReactNode, useState } from 'react';
import { Toaster } from 'sonner';
import { useServerEvents } from '../data/events';
import { ImportDesk } from '../imports/ImportDesk';
import { KitProvider } from '../pads/kit-context';
import { DragDesk } from './drag';
import { useGlobalKeys } from './global-keys';
import { Header } from './Header';
import { StatusLine, StatusProvider } from './status';

// Fetched when they are first asked for.
const CommandBox = dynamic(() => import('./CommandBox').then((m) => m.CommandBox), { ssr: false });
const PadName = dynamic(() => import('../pads/PadName').then((m) => m.PadName), { ssr: false });
const ShortcutSheet = dynamic(() => import('./ShortcutSheet').then((m) => m.ShortcutSheet), { ssr: false });

// What an edit changes is shown before the next key or click is heard, so that each starts from what the one before made.
notifyManager.setScheduler(queueMicrotask);

/** What stands around every page: data, sound, dragging, importing, the header and the status line. */
export function Shell({ children }: { children: ReactNode }) {
  const [client] = useState(
    () =>
      new QueryClient({
        defaultOptions: { queries: { staleTime: Number.POSITIVE_INFINITY, refetchOnWindowFocus: false, retry: 1 } },
      }),
  );
  return (
    <QueryClientProvider client={client}>
      <StatusProvider>
        <KitProvider>
          <DragDesk>
            <ImportDesk>
              <Frame>{children}</Frame>
            </ImportDesk>
          </DragDesk>
        </KitProvider>
      </StatusProvider>
      <Toaster
        position="top-center"
        offset={48}
        visibleToasts={3}
        toastOptions={{
          style: { background: 'var(--ink)', color: 'var(--on-ink)', border: 'none', fontFamily: 'var(--font-text)' },
        }}
      />
    </QueryClientProvider>
  );
}

function Frame({ children }: { children: ReactNode }) {
  const [sheet, setSheet] = useState(false);
  const [box, setBox] = useState(false);
  const [naming, setNaming] = useState(false);
  useServerEvents();
  useGlobalKeys({
    onSheet: () => setSheet(true),
    onBox: () => setBox((open) => !open),
    onRenamePad: () => setNaming(true),
  });
  return (
    <div className="flex h-dvh min-w-[960px] flex-col">
      <Header onBox={() => setBox(true)} />
      <main className="flex min-h-0 flex-1 flex-col">{children}</main>
      <StatusLine onSheet={() => setSheet(true)} />
      {sheet && <ShortcutSheet open onClose={() => setSheet(false)} />}
      {box && <CommandBox open onClose={() => setBox(false)} />}
      {naming && <PadName onClose={() => setNaming(false)} />}
    </div>
  );
}
