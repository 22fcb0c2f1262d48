'use client';

import { useQueryClient } from '@tanstack/react-query';
import { X } from 'lucide-react';
import {
  createContext,
  type DragEvent,
  type ReactNode,
  useCallback,
  useContext,
  useMemo,
  useRef,
  useState,
} from 'react';
import type { ErrorAnswer, ImportAnswer } from '@/contract/views';
import { keys } from '../data/queries';

export interface ImportItem {
  readonly id: number;
  readonly name: string;
  readonly bytes: number;
  readonly sent: number;
  readonly state: 'waiting' | 'sending' | 'done' | 'failed' | 'cancelled';
  readonly message: string;
}

interface Imports {
  readonly items: readonly ImportItem[];
  readonly pick: () => void;
  readonly cancel: (id: number) => void;
  readonly clear: () => void;
}

const Context = createContext<Imports>({ items: [], pick: () => {}, cancel: () => {}, clear: () => {} });

export function useImports(): Imports {
  return useContext(Context);
}

/** Files under way at once: the disk is the narrow place, so two keep it busy. */
const AT_ONCE = 2;

/** Takes files dropped anywhere or picked, sends them one after another, and shows how far each is. */
export function ImportDesk({ children }: { children: ReactNode }) {
  const client = useQueryClient();
  const [items, setItems] = useState<readonly ImportItem[]>([]);
  const [over, setOver] = useState(false);
  const input = useRef<HTMLInputElement>(null);
  const queue = useRef<{ id: number; file: File }[]>([]);
  const running = useRef(new Map<number, XMLHttpRequest>());
  const next = useRef(1);

  const change = useCallback((id: number, set: Partial<ImportItem>) => {
    setItems((old) => old.map((item) => (item.id === id ? { ...item, ...set } : item)));
  }, []);

  const startNext = useCallback(() => {
    while (running.current.size < AT_ONCE) {
      const job = queue.current.shift();
      if (!job) return;
      const { id, file } = job;
      change(id, { state: 'sending' });
      // XMLHttpRequest, since fetch tells nothing of how far an upload is.
      const request = new XMLHttpRequest();
      running.current.set(id, request);
      const settle = (set: Partial<ImportItem>) => {
        running.current.delete(id);
        change(id, set);
        void client.invalidateQueries({ queryKey: keys.recordings });
        startNext();
      };
      request.upload.onprogress = (event) => change(id, { sent: event.loaded });
      request.onabort = () => settle({ state: 'cancelled', message: 'Cancelled; nothing of it was kept.' });
      request.onerror = () =>
        settle({ state: 'failed', message: 'The connection to the server was lost. Is it still running?' });
      request.onload = () => settle(outcome(request, file.name));
      request.open('POST', `/api/recordings?name=${encodeURIComponent(file.name)}`);
      request.send(file);
    }
  }, [change, client]);

  const take = useCallback(
    (files: Iterable<File>) => {
      const added = [...files].map((file) => ({ id: next.current++, file }));
      queue.current.push(...added);
      const fresh = added.map(
        ({ id, file }): ImportItem => ({
          id,
          name: file.name,
          bytes: file.size,
          sent: 0,
          state: 'waiting',
          message: '',
        }),
      );
      setItems((old) => [...old.filter((i) => i.state !== 'done'), ...fresh]);
      startNext();
    },
    [startNext],
  );

  const cancel = useCallback(
    (id: number) => {
      queue.current = queue.current.filter((job) => job.id !== id);
      const request = running.current.get(id);
      if (request) request.abort();
      else change(id, { state: 'cancelled', message: 'Cancelled before it began.' });
    },
    [change],
  );

  const isFiles = (event: DragEvent) => event.dataTransfer.types.includes('Files');
  const value = useMemo(
    () => ({ items, pick: () => input.current?.click(), cancel, clear: () => setItems([]) }),
    [items, cancel],
  );
  return (
    <Context.Provider value={value}>
      {/* biome-ignore lint/a11y/noStaticElementInteractions: dropping files is one way; the button of the page is the other */}
      <div
        onDragOver={(event) => {
          if (!isFiles(event)) return;
          event.preventDefault();
          setOver(true);
        }}
        onDragLeave={(event) => event.relatedTarget === null && setOver(false)}
        onDrop={(event) => {
          if (!isFiles(event)) return;
          event.preventDefault();
          setOver(false);
          take(event.dataTransfer.files);
        }}
      >
        {children}
        {over && (
          <div className="pointer-events-none fixed inset-3 z-50 flex items-center justify-center rounded-xl border-2 border-verdigris border-dashed bg-selection/85">
            <p className="font-head text-2xl">Let go to import</p>
          </div>
        )}
        <ImportList />
      </div>
      <input
        ref={input}
        type="file"
        multiple
        accept=".wav,.wave,.rf64,audio/wav,audio/x-wav"
        className="hidden"
        data-testid="file-input"
        onChange={(event) => {
          take(event.target.files ?? []);
          event.target.value = '';
        }}
      />
    </Context.Provider>
  );
}

function outcome(request: XMLHttpRequest, name: string): Partial<ImportItem> {
  try {
    if (request.status === 200) {
      const answer = JSON.parse(request.responseText) as ImportAnswer;
      const said = answer.duplicate ? [`The same audio is here already, as "${answer.title}".`] : [];
      return { state: 'done', message: [...said, ...answer.warnings].join(' ') };
    }
    return { state: 'failed', message: (JSON.parse(request.responseText) as ErrorAnswer).error.message };
  } catch {
    return { state: 'failed', message: `The server did not answer as expected for "${name}" (${request.status}).` };
  }
}

function ImportList() {
  const { items, cancel, clear } = useImports();
  if (items.length === 0) return null;
  const busy = items.some((i) => i.state === 'waiting' || i.state === 'sending');
  const failed = items.filter((i) => i.state === 'failed').length;
  return (
    <section
      aria-label="Imports"
      className="fixed right-4 bottom-10 z-30 w-[400px] rounded-lg border border-edge bg-sheet shadow-lg"
    >
      <header className="flex items-center border-b border-line px-3 py-1">
        <span className="flex-1 font-semibold">
          {busy ? 'Importing' : 'Imported'} {items.filter((i) => i.state === 'done').length} of {items.length}
          {failed > 0 && <span className="text-madder"> · {failed} could not be read</span>}
        </span>
        {!busy && (
          <button
            type="button"
            className="rounded p-1 text-soft hover:text-ink"
            aria-label="Close the list of imports"
            onClick={clear}
          >
            <X size={15} />
          </button>
        )}
      </header>
      <ul className="max-h-[240px] overflow-auto">
        {items.map((item) => (
          <li key={item.id} className="border-b border-line px-3 py-[6px] last:border-0" data-state={item.state}>
            <div className="flex items-center gap-2">
              <span className="min-w-0 flex-1 truncate" title={item.name}>
                {item.name}
              </span>
              <span className="figure flex-none text-[12px] text-soft">{progressText(item)}</span>
              {(item.state === 'waiting' || item.state === 'sending') && (
                <button
                  type="button"
                  className="rounded px-1 text-[12px] text-madder hover:underline"
                  onClick={() => cancel(item.id)}
                >
                  Cancel
                </button>
              )}
            </div>
            {item.state === 'sending' && (
              <div
                className="mt-1 h-[4px] rounded-full bg-sunk"
                role="progressbar"
                aria-label={item.name}
                aria-valuenow={Math.round((100 * item.sent) / Math.max(1, item.bytes))}
              >
                <div
                  className="h-full rounded-full bg-verdigris"
                  style={{ width: `${(100 * item.sent) / Math.max(1, item.bytes)}%` }}
                />
              </div>
            )}
            {item.message && (
              <p className={`text-[12px] ${item.state === 'failed' ? 'text-madder' : 'text-soft'}`}>{item.message}</p>
            )}
          </li>
        ))}
      </ul>
    </section>
  );
}

function progressText(item: ImportItem): string {
  if (item.state === 'sending') return `${Math.round((100 * item.sent) / Math.max(1, item.bytes))} %`;
  return { waiting: 'waits', done: 'here', failed: 'failed', cancelled: 'cancelled' }[item.state];
}
