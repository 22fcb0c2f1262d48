'use client';

import { notifyManager, QueryClient, QueryClientProvider } from '@tanstack/react-query';
import dynamic from 'next/dynamic';
import { type ReactNode, useCallback, useState } from 'react';
import { Toaster } from 'sonner';
import { useServerEvents } from '../data/events';
import { ImportDesk } from '../imports/ImportDesk';
import { KitProvider } from '../pads/kit-context';
import { useStore } from '../parts/store';
import { useLoadedWhenIdle } from '../parts/use-loaded-when-idle';
import { voiceDialog } from '../voice/voice-dialog';
import { DragDesk } from './drag';
import { useGlobalKeys } from './global-keys';
import { Header } from './Header';
import { StatusLine, StatusProvider } from './status';
import { useTypedAhead } from './typed-ahead';

const dialogs = {
  history: () => import('./HistorySheet').then((m) => m.HistorySheet),
  box: () => import('./CommandBox').then((m) => m.CommandBox),
  padName: () => import('../pads/PadName').then((m) => m.PadName),
  sheet: () => import('./ShortcutSheet').then((m) => m.ShortcutSheet),
  voice: () => import('../voice/VoiceDialog').then((m) => m.VoiceDialog),
};
const CommandBox = dynamic(dialogs.box, { ssr: false });
const HistorySheet = dynamic(dialogs.history, { ssr: false });
const PadName = dynamic(dialogs.padName, { ssr: false });
const ShortcutSheet = dynamic(dialogs.sheet, { ssr: false });
const VoiceDialog = dynamic(dialogs.voice, { ssr: false });

// Edits are rendered before the next key or click is handled, so that each starts from the previous one.
notifyManager.setScheduler(queueMicrotask);

/** The frame of every page: data, sound, dragging, importing, header and status line. */
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
        offset={88}
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
  const [history, setHistory] = useState(false);
  const voicing = useStore(voiceDialog);
  useServerEvents();
  useLoadedWhenIdle(dialogs);
  const closeBox = useCallback(() => setBox(false), []);
  const closeVoicing = useCallback(() => voiceDialog.set(false), []);
  const closeNaming = useCallback(() => setNaming(false), []);
  useTypedAhead(box, closeBox);
  useTypedAhead(naming, closeNaming);
  useGlobalKeys({
    onSheet: () => setSheet(true),
    onBox: () => setBox((open) => !open),
    onRenamePad: () => setNaming(true),
    onHistory: () => setHistory(true),
  });
  return (
    <div className="flex h-dvh min-w-[960px] flex-col print:h-auto print:min-w-0">
      <Header onBox={() => setBox(true)} onHistory={() => setHistory(true)} />
      <main className="flex min-h-0 flex-1 flex-col">{children}</main>
      <StatusLine onSheet={() => setSheet(true)} />
      {sheet && <ShortcutSheet open onClose={() => setSheet(false)} />}
      {box && <CommandBox open onClose={closeBox} />}
      {history && <HistorySheet onClose={() => setHistory(false)} />}
      {naming && <PadName onClose={closeNaming} />}
      {voicing && <VoiceDialog onClose={closeVoicing} />}
    </div>
  );
}
