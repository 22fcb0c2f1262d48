'use client';

import { useVirtualizer } from '@tanstack/react-virtual';
import { RotateCcw, X } from 'lucide-react';
import Link from 'next/link';
import { useRef } from 'react';
import { useHits, useRecordings } from '../data/queries';
import type { ImportItem } from './queue';
import { useImports } from './use-imports';

const ROW = 46;
const TALLEST = 276;

/** Progress of each file, and a report once all have been imported. */
export function ImportPanel() {
  const { items, speed, cancelAll, retry, clear } = useImports();
  const scroller = useRef<HTMLUListElement>(null);
  const busy = items.some((i) => i.state === 'waiting' || i.state === 'sending');
  const failed = items.filter((i) => i.state === 'failed' || i.state === 'cancelled');
  // Failures are listed first once the queue is done.
  const shown = busy ? items : [...failed, ...items.filter((i) => !failed.includes(i))];
  const rows = useVirtualizer({
    count: shown.length,
    getScrollElement: () => scroller.current,
    estimateSize: (i) => (shown[i]?.message ? ROW + 22 : ROW),
    overscan: 4,
    getItemKey: (i) => `${shown[i]?.id} ${shown[i]?.message === ''}`,
  });
  const total = items.reduce((sum, i) => sum + i.bytes, 0);
  const sent = items.reduce((sum, i) => sum + (i.state === 'sending' || i.state === 'waiting' ? i.sent : i.bytes), 0);
  return (
    <section
      aria-label="Imports"
      className="fixed top-[88px] right-4 z-30 w-[420px] rounded-lg border border-edge bg-sheet shadow-lg"
    >
      <header className="flex items-center gap-2 border-b border-line px-3 py-1">
        <span className="flex min-w-0 flex-1 flex-col leading-[16px]">
          <span className="font-semibold">
            {busy ? 'Importing' : 'Imported'} {count(items, 'done') + count(items, 'linked')} of {items.length}
          </span>
          <span className="truncate text-[12px] text-soft">
            {busy ? `${Math.round((100 * sent) / Math.max(1, total))} % · ${megabytes(speed())}/s` : report(items)}
          </span>
        </span>
        {busy ? (
          <button type="button" className="quiet-button" onClick={cancelAll}>
            Cancel all
          </button>
        ) : (
          <>
            {failed.length > 0 && (
              <button type="button" className="quiet-button" onClick={() => retry(failed.map((i) => i.id))}>
                Try {failed.length === 1 ? 'it' : `${failed.length}`} again
              </button>
            )}
            <button
              type="button"
              className="rounded p-1 text-soft hover:text-ink"
              aria-label="Close the list of imports"
              onClick={clear}
            >
              <X size={15} />
            </button>
          </>
        )}
      </header>
      {!busy && <UnknownRights items={items} />}
      <ul ref={scroller} className="overflow-auto" style={{ height: Math.min(TALLEST, rows.getTotalSize()) }}>
        <div className="relative" style={{ height: rows.getTotalSize() }}>
          {rows.getVirtualItems().map(({ index, start, key }) => {
            const item = shown[index] as ImportItem;
            return (
              <li
                key={key}
                ref={rows.measureElement}
                data-index={index}
                data-state={item.state}
                className="absolute inset-x-0 border-b border-line px-3 py-[6px]"
                style={{ transform: `translateY(${start}px)` }}
              >
                <Item item={item} />
              </li>
            );
          })}
        </div>
      </ul>
    </section>
  );
}

/** Warns early that a kit of sounds of unknown rights cannot be exported for others. */
function UnknownRights({ items }: { items: readonly ImportItem[] }) {
  const { data: recordings } = useRecordings();
  const ids = new Set(items.map((i) => i.recordingId));
  const unknown = recordings?.filter((r) => ids.has(r.id) && r.rightsKind === 'unknown').length ?? 0;
  if (unknown === 0) return null;
  return (
    <p className="border-b border-line px-3 py-1 text-[12px] text-soft">
      {unknown === 1 ? 'Its rights are' : `The rights of ${unknown} are`} unknown: say whose they are (Story, F4) before
      a kit with them is to be passed on.
    </p>
  );
}

function Item({ item }: { item: ImportItem }) {
  const { cancel, retry } = useImports();
  const became = useBecame(item.recordingId);
  const share = item.decoded > 0 ? item.decoded : item.sent / Math.max(1, item.bytes);
  const open = item.state === 'sending' || item.state === 'waiting';
  return (
    <>
      <div className="flex h-6 items-center gap-2">
        {item.recordingId ? (
          <Link
            href={became?.href ?? `/slice/${item.recordingId}`}
            className="min-w-0 flex-1 truncate text-verdigris hover:underline"
            title={`Open ${item.name}`}
          >
            {item.name}
          </Link>
        ) : (
          <span className="min-w-0 flex-1 truncate" title={item.name}>
            {item.name}
          </span>
        )}
        <span className={`figure text-[12px] ${item.state === 'failed' ? 'text-madder' : 'text-soft'}`}>
          {became?.text ?? progressText(item)}
        </span>
        {open && (
          <button
            type="button"
            className="rounded p-1 text-soft hover:text-ink"
            aria-label={`Cancel ${item.name}`}
            onClick={() => cancel(item.id)}
          >
            <X size={14} />
          </button>
        )}
        {(item.state === 'failed' || item.state === 'cancelled') && (
          <button
            type="button"
            className="rounded p-1 text-soft hover:text-ink"
            aria-label={`Try ${item.name} again`}
            title="Try again"
            onClick={() => retry([item.id])}
          >
            <RotateCcw size={14} />
          </button>
        )}
      </div>
      {item.state === 'sending' && (
        <div
          className="mt-1 h-[4px] rounded-full bg-sunk"
          role="progressbar"
          aria-label={item.name}
          aria-valuenow={Math.round(100 * share)}
        >
          <div className="h-full rounded-full bg-verdigris" style={{ width: `${100 * share}%` }} />
        </div>
      )}
      {item.message && (
        <p className={`text-[12px] leading-[15px] ${item.state === 'failed' ? 'text-madder' : 'text-soft'}`}>
          {item.message}
        </p>
      )}
    </>
  );
}

/** What an imported file has become and where that is shown; null before the lists have it. */
function useBecame(recordingId: string | null): { readonly text: string; readonly href: string } | null {
  const { data: hits } = useHits(recordingId !== null);
  const { data: recordings } = useRecordings();
  const recording = recordings?.find((r) => r.id === recordingId);
  if (!recording) return null;
  const hit = hits?.find((h) => h.recordingId === recordingId && h.sliceId === null);
  if (hit) return { text: `the hit ${hit.name}`, href: `/hits?hit=${hit.id}` };
  const state = recording.analysed
    ? `${recording.sliceCount} slices`
    : recording.unlistened === null
      ? 'being listened to'
      : 'not listened to';
  return { text: `a recording, ${state}`, href: `/slice/${recording.id}` };
}

function count(items: readonly ImportItem[], state: ImportItem['state']): number {
  return items.filter((i) => i.state === state).length;
}

function report(items: readonly ImportItem[]): string {
  const parts: [number, string][] = [
    [count(items, 'linked'), 'here already'],
    [count(items, 'failed'), 'could not be read'],
    [count(items, 'cancelled'), 'cancelled'],
  ];
  return parts
    .filter(([n]) => n > 0)
    .map(([n, what]) => `${n} ${what}`)
    .join(' · ');
}

function megabytes(bytes: number): string {
  return `${(bytes / 1e6).toFixed(bytes < 1e7 ? 1 : 0)} MB`;
}

function progressText(item: ImportItem): string {
  if (item.state === 'sending') {
    return item.decoded > 0
      ? `decoding ${Math.round(100 * item.decoded)} %`
      : `${Math.round((100 * item.sent) / Math.max(1, item.bytes))} %`;
  }
  return { waiting: 'waits', done: 'here', linked: 'linked', failed: 'failed', cancelled: 'cancelled' }[item.state];
}
