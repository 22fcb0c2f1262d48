import { Popover, PopoverButton, PopoverPanel } from '@headlessui/react';
import Link from 'next/link';
import { useState } from 'react';
import type { Preparation } from '@/contract/taking';
import { isLayered } from '@/core/hit/key';
import { parseTags } from '@/core/naming/tags';
import { useCommands } from '../data/commit';
import { preparing } from '../data/preparing';
import { PrepareTicks } from '../imports/ImportDialog';
import { LayerHits } from '../layers/LayerHits';
import { useStore } from '../parts/store';
import { RecipeMenu } from '../treatment/RecipeMenu';
import { hitSubject } from '../treatment/subject';
import { cutAtStrikes, setBack, setHits } from './edits';
import { HitZip } from './HitZip';
import { RemoveHits } from './RemoveHits';
import type { HitRow } from './row';

/** Actions on the chosen hits; each is one step to undo. */
export function HitBar({
  hits,
  all,
  inBin,
  onBin,
  onLay,
}: {
  hits: readonly HitRow[];
  all: readonly HitRow[];
  inBin: boolean;
  onBin: () => void;
  /** Opens the preview of laying them on pads. */
  onLay: () => void;
}) {
  const { commit } = useCommands();
  const [removing, setRemoving] = useState<readonly HitRow[] | null>(null);
  const struck = hits.filter((h) => h.strikes.length > 0);
  const doubted = hits.filter((h) => h.doubt !== '');
  const what = hits.length === 1 ? (hits[0] as HitRow).name : `${hits.length} hits`;
  const cut = () => {
    const taken = new Set(all.map((h) => h.name));
    const changes = struck.flatMap((hit) => {
      const cuts = cutAtStrikes(hit, taken, () => crypto.randomUUID());
      for (const c of cuts) if (c.op === 'create') taken.add(String(c.value.name));
      return cuts;
    });
    void commit(
      struck.length === 1 ? `cut ${struck[0]?.name} at its strikes` : `cut ${struck.length} hits at their strikes`,
      changes,
    );
  };
  return (
    <section
      aria-label="Edit the hits chosen"
      className="flex h-10 flex-none items-center gap-2 border-t border-line bg-paper px-3"
    >
      <span className="max-w-[220px] truncate font-semibold">{what}</span>
      {!inBin && (
        <button type="button" className="quiet-button" title="Where each goes is shown first (Enter)" onClick={onLay}>
          To the pads …
        </button>
      )}
      <LayerHits hits={hits} names={new Set(all.map(({ name }) => name))} />
      {struck.length > 0 && (
        <button type="button" className="next-button" onClick={cut}>
          Cut into {struck.reduce((sum, h) => sum + h.strikes.length + 1, 0)} hits
        </button>
      )}
      {doubted.length > 0 && (
        <button
          type="button"
          className="quiet-button"
          onClick={() => void commit(`looked at ${what}`, setHits(doubted, { doubt: '' }))}
        >
          It is right
        </button>
      )}
      <Prepare hits={hits} />
      <RecipeMenu
        targets={() => ({ subjects: hits.map(hitSubject), changes: [] })}
        count={hits.length}
        label="Treat …"
        up
      />
      <HitZip hits={hits} />
      <button
        type="button"
        className="quiet-button"
        title="Level and offset as they came; the whole file where it is one sound"
        onClick={() =>
          void commit(
            `set ${what} back`,
            hits.flatMap((h) => setBack(h, h.recording)),
          )
        }
      >
        Set back
      </button>
      {hits.length === 1 && hits[0] && (
        <Link
          className="quiet-button leading-[26px]"
          title="Its treatment: level, tune, filter, shorten and more; heard against what it was (F4)"
          href={`/hits/${hits[0].id}`}
        >
          Open
        </Link>
      )}
      {hits.length === 1 && hits[0] && !isLayered(hits[0]) && (
        <Link
          className="quiet-button leading-[26px]"
          title="Its edges on its recording; every pad that plays it follows"
          href={`/slice/${hits[0].recordingId}?hit=${hits[0].id}`}
        >
          Open in Slice
        </Link>
      )}
      <AddTag hits={hits} what={what} />
      <span className="min-w-0 truncate text-[12px] text-soft">
        {hits.length === 1 && hits[0]?.tags.join(', ')}
        {hits.length === 1 && hits[0]?.tempoBpm ? ` ${hits[0].tempoBpm} BPM` : ''}
      </span>
      <span className="ml-auto" />
      {inBin && (
        <button type="button" className="quiet-button text-madder" onClick={() => setRemoving(hits)}>
          Remove …
        </button>
      )}
      {removing && <RemoveHits hits={removing} onClose={() => setRemoving(null)} />}
      <button type="button" className="quiet-button" onClick={onBin}>
        {inBin ? 'Put back' : 'To the bin'}
      </button>
    </section>
  );
}

/** Prepares hits: steps are added that trim, level and clean them. */
function Prepare({ hits }: { hits: readonly HitRow[] }) {
  const { ask } = useCommands();
  const [ticks, setTicks] = useState<readonly Preparation[]>(['ends', 'peak']);
  const [stop, setStop] = useState<AbortController | null>(null);
  const share = useStore(preparing);
  const prepare = () => {
    const control = new AbortController();
    setStop(control);
    preparing.set(0);
    void ask('/api/hits/prepare', { ids: hits.map((h) => h.id), ticks }, control.signal).then(() => {
      setStop(null);
      preparing.set(null);
    });
  };
  return (
    <>
      {stop && (
        <button type="button" className="quiet-button" onClick={() => stop.abort()}>
          Preparing {Math.round(100 * (share ?? 0))} % · stop
        </button>
      )}
      <Popover className={`relative ${stop ? 'hidden' : ''}`}>
        <PopoverButton className="quiet-button">Prepare …</PopoverButton>
        <PopoverPanel
          anchor="top start"
          className="z-30 w-[420px] rounded-lg border border-edge bg-sheet p-3 shadow-lg [--anchor-gap:6px]"
        >
          {({ close }) => (
            <>
              <PrepareTicks prepare={ticks} onChange={setTicks} />
              <div className="mt-2 flex items-center gap-2">
                <button
                  type="button"
                  className="next-button"
                  disabled={ticks.length === 0}
                  onClick={() => {
                    prepare();
                    close();
                  }}
                >
                  Prepare {hits.length === 1 ? 'it' : `${hits.length} hits`}
                </button>
                <span className="text-[12px] text-soft">The recordings stay as they are.</span>
              </div>
            </>
          )}
        </PopoverPanel>
      </Popover>
    </>
  );
}

function AddTag({ hits, what }: { hits: readonly HitRow[]; what: string }) {
  const { commit } = useCommands();
  const [tag, setTag] = useState('');
  return (
    <form
      onSubmit={(event) => {
        event.preventDefault();
        const tags = parseTags(tag);
        const changes = hits.flatMap((h) => setHits([h], { tags: [...new Set([...h.tags, ...tags])].slice(0, 30) }));
        if (tags.length > 0) void commit(`tagged ${what} ${tags.join(', ')}`, changes);
        setTag('');
      }}
    >
      <input
        aria-label="Add a tag to the hits chosen"
        className="h-7 w-[110px] rounded-md border border-line px-2"
        placeholder="add a tag"
        value={tag}
        onChange={(event) => setTag(event.target.value)}
      />
    </form>
  );
}
