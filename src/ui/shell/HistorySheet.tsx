'use client';

import { Dialog, DialogPanel, DialogTitle } from '@headlessui/react';
import { useInfiniteQuery } from '@tanstack/react-query';
import { useState } from 'react';
import type { HistoryAnswer, HistoryEntry } from '@/contract/edits';
import { browserId, getJson } from '../data/api';
import { useCommands } from '../data/commit';
import { keys } from '../data/queries';

/** All edits of the workspace, newest first; each can be undone alone unless a later one builds on it. */
export function HistorySheet({ onClose }: { onClose: () => void }) {
  const history = useInfiniteQuery({
    queryKey: keys.wholeHistory,
    initialPageParam: Number.MAX_SAFE_INTEGER,
    queryFn: ({ pageParam }) => getJson<HistoryAnswer>(`/api/history?browser=${browserId()}&before=${pageParam}`),
    getNextPageParam: ({ entries }) => entries.at(-1)?.id,
  });
  const entries = history.data?.pages.flatMap((page) => page.entries) ?? [];
  return (
    <Dialog open onClose={onClose} className="relative z-40">
      <div className="fixed inset-0 bg-ink/25" aria-hidden />
      <div className="fixed inset-0 flex items-start justify-center p-12">
        <DialogPanel className="flex max-h-full w-[640px] flex-col rounded-xl border border-edge bg-sheet p-6">
          <DialogTitle className="font-head text-[20px] font-semibold">History</DialogTitle>
          <p className="mt-1 text-[12px] text-soft">
            Newest first. Any of it can be taken back alone, unless something done later stands on it.
          </p>
          <ul className="mt-3 min-h-[80px] overflow-auto" aria-label="What was done">
            {entries.map((entry) => (
              <Entry key={entry.id} entry={entry} />
            ))}
            {history.data && entries.length === 0 && <li className="text-soft">Nothing has been done yet.</li>}
            {history.error && <li className="text-madder">{history.error.message}</li>}
          </ul>
          <div className="mt-4 flex gap-2">
            {history.hasNextPage && entries.length > 0 && (
              <button
                type="button"
                className="quiet-button"
                disabled={history.isFetchingNextPage}
                onClick={() => void history.fetchNextPage()}
              >
                Earlier …
              </button>
            )}
            <span className="ml-auto" />
            <button type="button" className="quiet-button" onClick={onClose}>
              Close
            </button>
          </div>
        </DialogPanel>
      </div>
    </Dialog>
  );
}

function Entry({ entry }: { entry: HistoryEntry }) {
  const { turn } = useCommands();
  const [refused, setRefused] = useState('');
  const undone = entry.state !== 'done';
  return (
    <li data-testid="done" className="border-b border-line py-1">
      <div className="flex items-baseline gap-3">
        <time className="figure w-[104px] flex-none text-[12px] text-soft" dateTime={new Date(entry.at).toISOString()}>
          {when(entry.at)}
        </time>
        <span className={`min-w-0 flex-1 truncate ${undone ? 'text-soft line-through' : ''}`} title={entry.label}>
          {entry.label}
        </span>
        {!entry.own && <span className="text-[12px] text-soft">another browser</span>}
        {entry.state !== 'dropped' && (
          <button
            type="button"
            className="quiet-button"
            onClick={() => void turn(undone ? 'redo' : 'undo', entry.id).then(setRefused)}
          >
            {undone ? 'Do again' : 'Take back'}
          </button>
        )}
      </div>
      {refused && <p className="pl-[116px] text-[12px] text-madder">{refused}</p>}
    </li>
  );
}

function when(at: number): string {
  const date = new Date(at);
  const time = date.toLocaleTimeString('en-GB', { hour: '2-digit', minute: '2-digit' });
  if (date.toDateString() === new Date().toDateString()) return time;
  return `${date.toLocaleDateString('en-GB', { day: 'numeric', month: 'short' })} ${time}`;
}
