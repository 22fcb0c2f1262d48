'use client';

import Link from 'next/link';
import { createContext, type ReactNode, useContext, useEffect, useMemo, useState } from 'react';
import { useSaving } from '../data/saving';
import { inputNow } from '../parts/input-now';
import { useStore } from '../parts/store';
import { soundNow } from '../sound/open-sound';

interface Status {
  readonly text: ReactNode;
  readonly setText: (text: ReactNode) => void;
}

const Context = createContext<Status>({ text: null, setText: () => {} });

export function StatusProvider({ children }: { children: ReactNode }) {
  const [text, setText] = useState<ReactNode>(null);
  const value = useMemo(() => ({ text, setText }), [text]);
  return <Context.Provider value={value}>{children}</Context.Provider>;
}

/** Shows a page's own line in the status line while it is mounted. */
export function useStatus(text: string): void {
  const { setText } = useContext(Context);
  useEffect(() => {
    setText(text);
    return () => setText(null);
  }, [text, setText]);
}

export function StatusLine({ onSheet }: { onSheet: () => void }) {
  const { text } = useContext(Context);
  const { open, showing, away, reason } = useSaving();
  const input = useStore(inputNow);
  useUnsaved(open > 0 || input?.isRecording === true);
  const voices = useEngineVoices();
  return (
    <footer className="flex h-7 flex-none print:hidden items-center gap-5 border-t border-line bg-paper px-4 text-[12px] text-soft">
      <span className="min-w-0 flex-1 truncate" role="status">
        {text}
      </span>
      {input && (
        <Link
          href="/record"
          data-testid="input"
          className={`max-w-[300px] truncate whitespace-nowrap ${input.isRecording ? 'font-semibold text-madder' : 'text-ochre'}`}
        >
          {input.text}
        </Link>
      )}
      {voices !== null && voices > 0 && (
        <span className="whitespace-nowrap" data-testid="stops">
          <span className="figure">0</span> stops all sound
        </span>
      )}
      <button type="button" className="rounded px-1 hover:text-ink" onClick={onSheet}>
        ? all keys
      </button>
      <span className="figure w-[84px] text-right" data-testid="voices">
        {voices === null ? 'sound off' : `${voices} ${voices === 1 ? 'voice' : 'voices'}`}
      </span>
      <span
        className={`whitespace-nowrap text-right ${away ? 'w-auto font-semibold text-madder' : 'w-[52px]'}`}
        data-testid="saved"
        title={
          away
            ? `${reason} What you do is kept in this page and sent as soon as it can be. Leave the page open.`.trim()
            : ''
        }
      >
        {away
          ? reason
            ? 'Not saved: the workspace is out of reach'
            : open > 0
              ? 'Not saved yet: the server is away'
              : 'The server is away'
          : open + showing > 0
            ? 'Saving …'
            : 'Saved'}
      </span>
    </footer>
  );
}

/** Has the browser warn before leaving a page with unsaved changes. */
function useUnsaved(unsaved: boolean): void {
  useEffect(() => {
    if (!unsaved) return;
    const warn = (event: BeforeUnloadEvent) => event.preventDefault();
    window.addEventListener('beforeunload', warn);
    return () => window.removeEventListener('beforeunload', warn);
  }, [unsaved]);
}

function useEngineVoices(): number | null {
  const [voices, setVoices] = useState<number | null>(null);
  useEffect(() => {
    const timer = setInterval(() => {
      const sound = soundNow();
      setVoices(sound && sound.engine.context.state === 'running' ? sound.engine.takeMostVoices() : null);
    }, 250);
    return () => clearInterval(timer);
  }, []);
  return voices;
}
