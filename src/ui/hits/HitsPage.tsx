'use client';

import { useEffect, useMemo, useRef, useState } from 'react';
import { FAMILIES } from '@/core/family';
import { isLayered, plainGain, recordingsOf } from '@/core/hit/key';
import { combinedRights, heldBack } from '@/core/rights/rights';
import { useCommands } from '../data/commit';
import { useHits, useRecordings } from '../data/queries';
import { useImports } from '../imports/use-imports';
import { Bench } from '../pads/Bench';
import { useKitDesk } from '../pads/kit-context';
import { LayMany } from '../pads/LayMany';
import { stretchOfHit } from '../pads/laying';
import { type Sorters, useListing } from '../parts/listing';
import { tell } from '../parts/notice';
import { SearchField } from '../parts/SearchField';
import { SuppliedChoice, useSuppliedFilter } from '../parts/Supplied';
import { useListKeys } from '../parts/use-list-keys';
import { useStatus } from '../shell/status';
import { useAudition } from '../sound/use-audition';
import { useTreatKey } from '../treatment/use-treat-key';
import { voiceDialog } from '../voice/voice-dialog';
import { setHits } from './edits';
import { HitBar } from './HitBar';
import { HitTable } from './HitTable';
import type { HitRow } from './row';

const SORTERS: Sorters<HitRow> = {
  name: (h) => h.name,
  family: (h) => (h.family === null ? null : FAMILIES.indexOf(h.family)),
  length: (h) => (h.endFrame - h.startFrame) / (h.recording?.sampleRate ?? 44100),
  root: (h) => h.rootHz,
  level: (h) => plainGain(h),
  source: (h) => h.recording?.title ?? null,
  kits: (h) => h.kits.length,
};

const textOf = (h: HitRow) =>
  `${h.name} ${h.family ?? ''} ${h.tags.join(' ')} ${h.recording?.title ?? ''} ${h.kits.join(' ')}`;

type Show = 'all' | 'doubtful' | 'held' | 'unused' | 'bin';

/** `asked`: the hit named by the address, which is chosen. */
export function HitsPage({ asked }: { asked: string | null }) {
  const hits = useHits();
  const recordings = useRecordings();
  const imports = useImports();
  const desk = useKitDesk();
  const { commit } = useCommands();
  const audition = useAudition();
  const [show, setShow] = useState<Show>('all');
  const [laying, setLaying] = useState(false);
  const all = useMemo(() => {
    const byId = new Map(recordings.data?.map((r) => [r.id, r]));
    return (hits.data ?? []).map((hit): HitRow => {
      const recording = byId.get(hit.recordingId);
      const sources = isLayered(hit) ? recordingsOf(hit).flatMap((id) => byId.get(id) ?? []) : [];
      const supplied = sources.length > 0 ? sources.every((s) => s.supplied) : (recording?.supplied ?? false);
      return { ...hit, recording, supplied, rights: sources.length > 0 ? combinedRights(sources) : recording };
    });
  }, [hits.data, recordings.data]);
  const isShown = useSuppliedFilter();
  const rows = useMemo(() => all.filter((h) => shows(h, show) && isShown(h)), [all, show, isShown]);
  const listing = useListing('hits', rows, textOf, SORTERS, { by: 'name', down: false });
  const { shown, selected } = listing;
  const doubtful = all.filter((h) => shows(h, 'doubtful')).length;
  const binned = all.filter((h) => h.binnedAt !== null).length;
  useEffect(() => audition.stop, [audition.stop]);

  const hear = (h: HitRow, again = true) => {
    if (!h.recording) return;
    const what = { recording: h.recording, startFrame: h.startFrame, endFrame: h.endFrame, hit: h };
    if (again) audition.toggle(what);
    else audition.play(what);
  };
  const bin = (gone: readonly HitRow[]) => {
    const out = show === 'bin';
    const what = gone.length === 1 ? (gone[0] as HitRow).name : `${gone.length} hits`;
    if (gone.length === 0) return;
    void commit(
      out ? `took ${what} out of the bin` : `put ${what} in the bin`,
      setHits(gone, { binnedAt: out ? null : Date.now() }),
    );
    const kits = [...new Set(gone.flatMap((h) => h.kits))];
    if (!out && kits.length > 0) tell(`In the bin, and still heard in ${kits.join(', ')}.`);
  };
  const search = useListKeys(listing, {
    onMove: (h) => audition.byItself && hear(h, false),
    onSpace: (h) => hear(h),
    onEnter: (h) => {
      if (selected.length > 1) setLaying(true);
      else if (h.recording) desk.lay(stretchOfHit(h, h.recording), null, 'next');
    },
    onDelete: bin,
  });
  // Listed in the command box.
  const { choose } = listing;
  const toShow = useRef(asked);
  useEffect(() => {
    if (asked) toShow.current = asked;
  }, [asked]);
  useEffect(() => {
    if (!toShow.current || !shown.some((h) => h.id === toShow.current)) return;
    choose(toShow.current);
    toShow.current = null;
  });
  useStatus(
    selected.length > 1
      ? `${selected.length} chosen · Enter lays them on pads together · Delete to the bin`
      : '↑ ↓ choose and hear · Shift chooses more · Space hear · F4 treat · Enter to the next free pad · / search · Delete to the bin',
  );

  useTreatKey(listing.chosen?.id);

  const tab = (value: Show, label: string) => (
    <button
      type="button"
      aria-pressed={show === value}
      className={`rounded px-1 ${show === value ? 'font-semibold text-verdigris' : 'text-soft hover:text-ink'}`}
      onClick={() => setShow(value)}
    >
      {label}
    </button>
  );
  return (
    <>
      <div className="flex h-10 flex-none items-center gap-3 border-b border-line bg-sheet px-4">
        <h1 className="font-semibold">Hits</h1>
        <span className="figure w-[60px] text-[12px] text-soft">{all.length > 0 && shown.length}</span>
        <SearchField
          label="Search hits"
          value={listing.query}
          onChange={listing.setQuery}
          onFirst={listing.chooseFirst}
          field={search}
        />
        {tab('all', 'All')}
        {tab('doubtful', `To look at ${doubtful}`)}
        {tab('unused', 'In no kit')}
        {tab('held', 'Held back')}
        {(binned > 0 || show === 'bin') && tab('bin', `Bin ${binned}`)}
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
        <button type="button" className="quiet-button" onClick={() => voiceDialog.set(true)}>
          New voice …
        </button>
        <button type="button" className="quiet-button" onClick={imports.open}>
          Import …
        </button>
      </div>
      <div className="flex min-h-0 flex-1 flex-col bg-sheet">
        {hits.isPending && <p className="p-8 text-soft">Reading the hits …</p>}
        {hits.error && !hits.data && (
          <p className="p-8 text-madder">The hits could not be read: {hits.error.message}</p>
        )}
        {hits.data && all.length === 0 && (
          <div className="mx-auto mt-16 max-w-[460px] text-center">
            <p className="font-head text-2xl">No hits yet</p>
            <p className="mt-2 text-soft">
              Lay a slice on a pad, and it is a hit. Ready sounds become hits when they are imported: drop a folder of
              them anywhere.
            </p>
          </div>
        )}
        {all.length > 0 && (
          <HitTable listing={listing} onHear={hear} nothing="Nothing here goes by these words and filters." />
        )}
        {selected.length > 0 && (
          <HitBar
            hits={selected}
            all={all}
            inBin={show === 'bin'}
            onBin={() => bin(selected)}
            onLay={() => setLaying(true)}
          />
        )}
        {laying && (
          <LayMany
            stretches={selected.flatMap((h) => (h.recording ? [stretchOfHit(h, h.recording)] : []))}
            what={selected.length === 1 ? (selected[0] as HitRow).name : `${selected.length} hits`}
            onClose={() => setLaying(false)}
          />
        )}
      </div>
      <Bench />
    </>
  );
}

function shows(h: HitRow, show: Show): boolean {
  if ((h.binnedAt !== null) !== (show === 'bin')) return false;
  if (show === 'doubtful') return h.doubt !== '' || h.strikes.length > 0;
  if (show === 'unused') return h.kits.length === 0;
  return show !== 'held' || (h.recording !== undefined && heldBack(h.recording) !== null);
}
