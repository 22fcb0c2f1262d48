'use client';

import { Dialog, DialogPanel, DialogTitle } from '@headlessui/react';
import { useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import type { Change } from '@/contract/edits';
import type { KitDocs, RecordingView } from '@/contract/views';
import { FAMILIES } from '@/core/family';
import type { Hit } from '@/core/hit/model';
import { ROWS } from '@/core/kit/layout';
import { KIT_INITIAL } from '@/core/kit/parameters';
import { freeName } from '@/core/naming/names';
import { applyToKit } from '../data/apply';
import { useCommands } from '../data/commit';
import { keys, useKits } from '../data/queries';
import { useKitDesk } from '../pads/kit-context';
import { LayMany } from '../pads/LayMany';
import { keptTakes, layMany } from '../pads/laying';
import { Glyph } from '../parts/Glyph';
import { doubtsOf, stretchOfShelved } from './shelving';
import type { ShelfOfSlices } from './use-heard';

/** Other takes kept with a pad, the barest first: further ones stay on their shelf. */
const MOST_TAKES = 7;

interface Line {
  readonly sliceId: string;
  readonly name: string;
  readonly family: string;
  readonly where: string;
  readonly takes: number;
  readonly doubts: readonly string[];
}

interface Summary {
  readonly kit: string;
  readonly lines: readonly Line[];
  readonly left: number;
}

/** Makes a kit of a recording in one gesture: the barest of each shelf on a pad of its role, with a summary. */
export function MakeKit({
  recording,
  shelves,
  onOpen,
  onPlay,
}: {
  recording: RecordingView;
  shelves: readonly ShelfOfSlices[];
  /** Shows a slice on its shelf, to correct it. */
  onOpen: (sliceId: string) => void;
  /** Plays the kit by the recording's rhythm. */
  onPlay: () => void;
}) {
  const client = useQueryClient();
  const { commit } = useCommands();
  const kits = useKits();
  const desk = useKitDesk();
  const [summary, setSummary] = useState<Summary | null>(null);
  const [filling, setFilling] = useState(false);
  // Kicks before toms, snares before claps: the order in which rows are filled.
  const ordered = [...shelves].sort((a, b) => FAMILIES.indexOf(a.family) - FAMILIES.indexOf(b.family));
  const barest = ordered.flatMap(({ slices }) => slices.slice(0, 1));

  const make = async () => {
    const kitId = crypto.randomUUID();
    const title = recording.title.replace(/ (loop|takes)$/i, '');
    const name = freeName(title, new Set((kits.data ?? []).map((k) => k.name)));
    const empty: KitDocs = {
      kit: { ...KIT_INITIAL, id: kitId, rev: 1, name },
      pads: [],
      layers: [],
      steps: [],
      buses: [],
      busSteps: [],
      variations: [],
      hits: [],
      recordings: [recording],
    };
    const laid = layMany(empty, barest.map(stretchOfShelved), 'role', () => crypto.randomUUID()).changes;
    const made = applyToKit(empty, laid, [...new Set(barest.map((entry) => entry.recording))]);
    const drums = ordered.flatMap(({ slices: [first, ...rest] }) =>
      first ? [{ sliceId: first.slice.id, takes: rest.slice(0, MOST_TAKES).map(stretchOfShelved) }] : [],
    );
    const others = keptTakes(made, drums, () => crypto.randomUUID());
    const changes: Change[] = [{ op: 'create', doc: 'kit', id: kitId, value: { name } }, ...laid, ...others];
    const stored = await commit(`made the kit ${name} of ${recording.title}`, changes);
    if (!stored) return;
    await client.refetchQueries({ queryKey: keys.kits });
    desk.choose(kitId);
    setSummary({ kit: name, lines: linesOf(made, ordered), left: Math.max(0, ordered.length - made.pads.length) });
  };
  return (
    <>
      <button
        type="button"
        className="next-button whitespace-nowrap"
        disabled={shelves.length === 0}
        onClick={() => void make()}
      >
        Make a kit of this
      </button>
      {desk.view && (
        <button
          type="button"
          className="quiet-button whitespace-nowrap"
          title={`The barest of each shelf, to the pads of ${desk.view.kit.name}: seen before it is done`}
          disabled={shelves.length === 0}
          onClick={() => setFilling(true)}
        >
          To the pads …
        </button>
      )}
      {filling && (
        <LayMany
          stretches={barest.map(stretchOfShelved)}
          what={`the drums of ${recording.title}`}
          onClose={() => setFilling(false)}
        />
      )}
      <Dialog open={summary !== null} onClose={() => setSummary(null)} className="relative z-40">
        <div className="fixed inset-0 bg-ink/20" aria-hidden />
        <DialogPanel className="fixed top-[8%] left-1/2 flex max-h-[84%] w-[640px] -translate-x-1/2 flex-col rounded-lg border border-edge bg-sheet shadow-lg">
          <DialogTitle className="px-5 pt-4 font-head text-[18px]">The kit {summary?.kit}</DialogTitle>
          <p className="px-5 pb-2 text-[12px] text-soft">
            The barest of each shelf lies on a pad of its role
            {summary && summary.left > 0 ? `; ${summary.left} found no free pad` : ''}. Ctrl Z takes it all back.
          </p>
          <ul className="min-h-0 flex-1 overflow-y-auto border-line border-t">
            {summary?.lines.map((line) => (
              <li key={line.sliceId} className="flex items-start gap-3 border-line border-b px-5 py-2">
                <span className="figure mt-[2px] w-6 flex-none rounded border border-edge text-center text-[12px]">
                  {line.where}
                </span>
                <Glyph family={line.family} />
                <span className="min-w-0 flex-1">
                  <span className="font-semibold">{line.name}</span>
                  <span className="text-[12px] text-soft">
                    {' '}
                    {line.takes === 1
                      ? 'the only take'
                      : `the barest of ${line.takes} takes; ${Math.min(line.takes - 1, MOST_TAKES)} kept as variations`}
                  </span>
                  {line.doubts.map((doubt) => (
                    <span key={doubt} className="block text-[12px] text-madder">
                      {doubt}
                    </span>
                  ))}
                </span>
                <button
                  type="button"
                  className="quiet-button h-6 px-2 text-[12px]"
                  onClick={() => {
                    setSummary(null);
                    onOpen(line.sliceId);
                  }}
                >
                  Show it
                </button>
              </li>
            ))}
          </ul>
          <div className="flex justify-end px-5 py-3">
            <button
              type="button"
              className="next-button"
              title="The kit, by the recording's own rhythm"
              onClick={() => {
                setSummary(null);
                onPlay();
              }}
            >
              Play it
            </button>
          </div>
        </DialogPanel>
      </Dialog>
    </>
  );
}

/** Which sounds are laid where, in the order of the shelves. */
function linesOf(kit: KitDocs, shelves: readonly ShelfOfSlices[]): Line[] {
  const hitOf = new Map(kit.hits.map((hit: Hit) => [hit.sliceId, hit]));
  return shelves.flatMap((shelf): Line[] => {
    const slice = shelf.slices[0]?.slice;
    const hit = slice && hitOf.get(slice.id);
    const layer = kit.layers.find((l) => l.hitId === hit?.id);
    const pad = kit.pads.find((p) => p.id === layer?.padId);
    if (!slice || !hit || !pad) return [];
    const where = ROWS[Math.floor(pad.position / 8)]?.caps[pad.position % 8] ?? '';
    const { family, slices } = shelf;
    const line = { sliceId: slice.id, name: hit.name, where, takes: slices.length, doubts: doubtsOf(shelf) };
    // The slice's own family where a person decided it, even on a shelf of another.
    return [{ ...line, family: hit.family ?? family }];
  });
}
