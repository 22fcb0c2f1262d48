import { useQueryClient } from '@tanstack/react-query';
import { useRouter } from 'next/navigation';
import { useMemo } from 'react';
import type { CutView, ImportAnswer } from '@/contract/views';
import type { MarkedStretch } from '@/picture/span';
import { browserId, postJson, tabId } from '../data/api';
import { useCommands } from '../data/commit';
import { hitsNow, keys, useHits } from '../data/queries';
import { decibels } from '../parts/figures';
import { complain, tell } from '../parts/notice';
import type { ShelvedSlice } from '../shelves/use-heard';
import { louderBy } from '../treatment/chains';
import { levelStep } from '../treatment/level-step';
import { hitOf, targetsOf } from '../treatment/targets';
import { markedStretchOf, stretchOf } from './stretches';
import type { StoredSlice } from './use-marks';
import type { Selection } from './use-selection';

export interface SliceTreatment {
  /** The hit that the chosen slice is already; null where there is none. */
  readonly hitId: string | null;
  /** Makes a hit of the chosen slice or the marked stretch; returns its id, or null where nothing is chosen. */
  readonly make: () => string | null;
  /** Makes the chosen slices louder by so many steps of level: hits are made of those that are none. */
  readonly louder: (steps: number) => void;
  /** Opens the treatment of the whole recording, at the marked stretch where there is one. */
  readonly recording: () => void;
  /** Prints the recording, or the marked stretch, as it sounds. */
  readonly print: () => void;
}

/** Treating what is chosen on Slice: a step makes a hit of a slice. */
export function useSliceTreatment(
  view: CutView,
  slices: readonly StoredSlice[],
  { chosen, index, ids }: Selection<StoredSlice>,
  stretch: MarkedStretch | null,
  heard: ReadonlyMap<string, ShelvedSlice>,
): SliceTreatment {
  const { recording } = view;
  const { commit } = useCommands();
  const client = useQueryClient();
  const router = useRouter();
  const hits = useHits().data ?? NO_HITS;
  // As of the key that is pressed: the one before may have made a hit since the last rendering.
  const latest = () => hitsNow(client);
  const pad = view.cut?.pad;
  const wanted = useMemo(() => {
    if (stretch) return markedStretchOf(recording, stretch, pad);
    return chosen ? stretchOf(recording, chosen, index + 1, pad, heard.get(chosen.id)) : null;
  }, [stretch, chosen, recording, index, pad, heard]);
  const newId = () => crypto.randomUUID();
  const print = async () => {
    const { title, recordingId } = await postJson<ImportAnswer>(`/api/recordings/${recording.id}/print`, {
      browser: browserId(),
      tab: tabId,
      ...(stretch ? { startFrame: stretch.start, endFrame: stretch.end } : {}),
    });
    await client.invalidateQueries({ queryKey: keys.recordings });
    tell(`Printed: the recording “${title}”.`, {
      action: { label: 'Open it', onClick: () => router.push(`/slice/${recordingId}`) },
    });
  };
  return {
    hitId: (wanted && hitOf(wanted, hits)?.id) ?? null,
    make: () => {
      if (!wanted) return null;
      const { subjects, changes } = targetsOf([wanted], latest(), newId);
      void commit(`made a hit of ${subjects[0]?.name}`, changes);
      return subjects[0]?.hit?.id ?? null;
    },
    louder: (steps) => {
      const db = steps * levelStep.get();
      const several = slices.flatMap((slice, i) =>
        ids.has(slice.id) ? [stretchOf(recording, slice, i + 1, pad, heard.get(slice.id))] : [],
      );
      if (several.length === 0) {
        tell('Choose slices first: this key then makes them louder or quieter.');
        return;
      }
      const { subjects, changes } = targetsOf(several, latest(), newId);
      const what = subjects.length === 1 ? subjects[0]?.name : `${subjects.length} hits`;
      void commit(`made ${what} ${db > 0 ? 'louder' : 'quieter'} by ${decibels(Math.abs(db))}`, [
        ...changes,
        ...subjects.map((subject) => louderBy(subject, db, newId)),
      ]);
    },
    recording: () =>
      router.push(`/recordings/${recording.id}${stretch ? `?from=${stretch.start}&to=${stretch.end}` : ''}`),
    print: () => void print().catch((error: Error) => complain(error.message)),
  };
}

const NO_HITS: never[] = [];
