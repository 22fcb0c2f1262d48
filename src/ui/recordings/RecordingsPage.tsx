'use client';

import dynamic from 'next/dynamic';
import { useRouter } from 'next/navigation';
import { useEffect, useState } from 'react';
import { useHotkeys } from 'react-hotkeys-hook';
import type { RecordingView } from '@/contract/views';
import { useRecordings } from '../data/queries';
import { useImports } from '../imports/use-imports';
import { recordingToShow } from '../imports/use-show-imported';
import { Bench } from '../pads/Bench';
import { useActions } from '../parts/actions';
import { length } from '../parts/figures';
import { pageKey } from '../parts/focus';
import { useListing } from '../parts/listing';
import { SearchField } from '../parts/SearchField';
import { SuppliedChoice, useSuppliedFilter } from '../parts/Supplied';
import { useStore } from '../parts/store';
import { useBookmark } from '../parts/use-bookmark';
import { useListKeys } from '../parts/use-list-keys';
import { useLoadedWhenIdle } from '../parts/use-loaded-when-idle';
import { useStatus } from '../shell/status';
import { useAudition } from '../sound/use-audition';
import { ANY, Filters, passes } from './filters';
import { RecordingTable } from './RecordingTable';
import { SORTERS, searchText } from './sorting';
import { useRecordingEdits } from './use-edits';

const parts = {
  story: () => import('./Story').then((m) => m.Story),
  bulk: () => import('./BulkBar').then((m) => m.BulkBar),
};
const Story = dynamic(parts.story, { ssr: false });
const BulkBar = dynamic(parts.bulk, { ssr: false });

export function RecordingsPage() {
  const { data, isPending, error, refetch } = useRecordings();
  const imports = useImports();
  const router = useRouter();
  const [filter, setFilter] = useState(ANY);
  const [story, setStory] = useState(true);
  const all = data ?? [];
  const isShown = useSuppliedFilter();
  const rows = all.filter((r) => passes(r, filter) && isShown(r));
  const listing = useListing('recordings', rows, searchText, SORTERS, { by: 'arrived', down: false });
  const { chosen, shown, selected } = listing;
  const audition = useAudition();
  const edits = useRecordingEdits();
  const setBookmark = useBookmark();
  const hear = (r: RecordingView) => audition.toggle(whole(r));

  useEffect(() => audition.stop, [audition.stop]);
  useLoadedWhenIdle(parts);
  const search = useListKeys(listing, {
    onMove: (r) => audition.byItself && audition.play(whole(r)),
    onSpace: hear,
    onEnter: (r) => router.push(`/slice/${r.id}`),
    onDelete: (gone) => (filter.bin ? edits.restore(gone) : edits.bin(gone)),
  });
  useHotkeys('quote', () => chosen && setBookmark(chosen), pageKey);
  useHotkeys('f2', () => chosen && focusTitle(chosen.id), pageKey);
  useHotkeys('f4', () => setStory((s) => !s), pageKey);
  useActions([
    ...(chosen ? [{ name: `Slice ${chosen.title}`, key: 'Enter', run: () => router.push(`/slice/${chosen.id}`) }] : []),
    { name: 'Show or hide the story', key: 'F4', run: () => setStory((s) => !s) },
  ]);
  // A file imported alone is shown at once, whatever the search or filter.
  const imported = useStore(recordingToShow);
  const { choose, setQuery } = listing;
  useEffect(() => {
    if (!imported || !all.some((r) => r.id === imported)) return;
    setFilter(ANY);
    setQuery('');
    choose(imported);
    recordingToShow.set(null);
  });
  useStatus(
    all.length === 0
      ? 'Drop sound files or folders anywhere to import them'
      : '↑ ↓ choose · Space hear · Enter open on Slice · F2 rename · F4 story · ’ bookmark · / search · Delete to the bin',
  );
  const binned = all.filter((r) => r.binnedAt !== null).length;

  return (
    <>
      <div className="flex h-10 flex-none items-center gap-3 border-b border-line bg-sheet px-4">
        <h1 className="font-semibold">Recordings</h1>
        <span className="figure w-[120px] truncate text-[12px] text-soft">{all.length > 0 && total(shown)}</span>
        <SearchField
          label="Search recordings"
          value={listing.query}
          onChange={listing.setQuery}
          onFirst={listing.chooseFirst}
          field={search}
        />
        <Filters rows={all} filter={filter} onChange={setFilter} binned={binned} />
        <SuppliedChoice rows={all} />
        <span className="ml-auto" />
        <button
          type="button"
          className="quiet-button"
          aria-pressed={audition.byItself}
          onClick={audition.switchByItself}
        >
          Arrows {audition.byItself ? 'sound' : 'are silent'}
        </button>
        <button type="button" className="quiet-button" aria-pressed={story} onClick={() => setStory(!story)}>
          Story
        </button>
        <button type="button" className="quiet-button" onClick={imports.open}>
          Import …
        </button>
        <button
          type="button"
          className="next-button"
          disabled={!chosen}
          onClick={() => chosen && router.push(`/slice/${chosen.id}`)}
        >
          Slice it
        </button>
      </div>
      <div className="flex min-h-0 flex-1 bg-sheet">
        <div className="flex min-h-0 min-w-0 flex-1 flex-col">
          {isPending && <p className="p-8 text-soft">Reading the archive …</p>}
          {error && !data && (
            <div className="p-8">
              <p className="mb-2 text-madder">The recordings could not be read: {error.message}</p>
              <button type="button" className="quiet-button" onClick={() => void refetch()}>
                Try again
              </button>
            </div>
          )}
          {data && all.length === 0 && <Empty onImport={imports.open} />}
          {all.length > 0 && (
            <RecordingTable
              listing={listing}
              playingId={audition.playingId}
              onHear={hear}
              onOpen={(r) => router.push(`/slice/${r.id}`)}
              nothing={filter.bin ? 'The bin is empty.' : 'Nothing here goes by these words and filters.'}
            />
          )}
          {selected.length > 1 && <BulkBar recordings={selected} inBin={filter.bin} />}
        </div>
        {story && chosen && (
          <Story
            key={chosen.id}
            recording={chosen}
            onHear={(startFrame) => audition.play({ ...whole(chosen), startFrame })}
          />
        )}
      </div>
      <Bench />
    </>
  );
}

function focusTitle(id: string): void {
  const field = document.querySelector<HTMLInputElement>(`[data-recording="${id}"] input[aria-label="Title"]`);
  field?.focus();
  field?.select();
}

function Empty({ onImport }: { onImport: () => void }) {
  return (
    <div className="mx-auto mt-16 max-w-[460px] text-center">
      <p className="font-head text-2xl">The archive is empty</p>
      <p className="mt-2 text-soft">
        Drop sound files or whole folders anywhere in this window, or choose them. They are kept as they are; nothing
        you do to a sound ever changes its recording.
      </p>
      <button type="button" className="next-button mt-5" onClick={onImport}>
        Import …
      </button>
    </div>
  );
}

function total(list: readonly RecordingView[]): string {
  const seconds = list.reduce((sum, r) => sum + r.frames / r.sampleRate, 0);
  return `${list.length} · ${length(seconds)}`;
}

/** The whole recording, to audition. */
function whole(recording: RecordingView) {
  return { recording, startFrame: 0, endFrame: recording.frames };
}
