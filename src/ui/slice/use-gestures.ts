import type { CutView } from '@/contract/views';
import { endOfSound } from '@/core/onset/ends';
import {
  addMark,
  addStretch,
  changesNothing,
  keepUpTo,
  lockMarks,
  type Mark,
  type MarkChanges,
  mergeMarks,
  removeMarks,
  untilItDiesAway,
} from '@/core/onset/marks';
import type { SplitBasis } from '@/core/onset/resplit';
import type { MarkedStretch } from '@/picture/span';
import { tell } from '../parts/notice';
import type { Marks, StoredSlice } from './use-marks';
import type { Selection } from './use-selection';

export interface Gestures {
  /** Adds a mark at a frame and chooses it. */
  readonly add: (frame: number) => void;
  readonly remove: () => void;
  readonly merge: () => void;
  /** Moves ends to where sounds have died away, up to the next start or, with `overNext`, past it. */
  readonly letDie: (overNext?: boolean) => void;
  readonly lock: () => void;
  /** Extends the chosen slice to the end of the marked stretch. */
  readonly keep: () => void;
  readonly sliceStretch: () => void;
  /** Where the sound at a mark has died away; past the next onset only with `overNext`. */
  readonly endOf: (mark: Pick<Mark, 'startFrame'>, overNext?: boolean) => number;
}

/** Edits of marks besides moving their edges; each is one edit, and says so where nothing had to change. */
export function useGestures(
  view: CutView,
  marks: Marks,
  selection: Selection<StoredSlice>,
  heard: SplitBasis,
  stretch: MarkedStretch | null,
  setStretch: (stretch: MarkedStretch | null) => void,
): Gestures {
  const { recording, candidates } = view;
  const { slices, store } = marks;
  const { chosen, index, ids, setChosen } = selection;
  const cut = (label: string, changes: MarkChanges, otherwise: string): readonly string[] => {
    if (!changesNothing(changes)) return store(label, changes).created;
    tell(otherwise);
    return [];
  };
  const basis = { candidates, levels: heard.levels, sampleRate: recording.sampleRate, frames: recording.frames };
  const diesAway = (mark: Pick<Mark, 'startFrame'>) => endOfSound(mark.startFrame, true, basis);
  const ringsOn = () => !changesNothing(untilItDiesAway(view.slices, [...ids], diesAway, recording.frames, true));

  return {
    endOf: ({ startFrame }, overNext = false) => endOfSound(startFrame, overNext, basis),
    add: (frame) => {
      const natural = candidates.find((c) => Math.abs(c.frame - frame) < 0.01 * recording.sampleRate)?.decayEnd;
      const made = addMark(view.slices, frame, recording.frames, natural);
      const [id] = cut('added a mark', made, 'There is a mark at this place already.');
      if (id) setChosen(id);
    },
    remove: () => {
      if (!chosen) return;
      const left = slices.filter((s) => !ids.has(s.id));
      const next = left.find((s) => s.startFrame >= chosen.startFrame) ?? left.at(-1);
      const label = ids.size === 1 ? 'removed a mark' : `removed ${ids.size} marks`;
      cut(label, removeMarks(view.slices, [...ids]), 'There is no mark to remove.');
      setChosen(next?.id ?? null);
    },
    merge: () => {
      const next = slices[index + 1];
      const wanted = ids.size > 1 ? [...ids] : chosen && next ? [chosen.id, next.id] : [];
      const merged = mergeMarks(view.slices, wanted);
      cut(`merged ${wanted.length} slices`, merged, 'There is no slice after this one to merge with.');
      if (chosen) setChosen(slices.find((s) => wanted.includes(s.id))?.id ?? null);
    },
    letDie: (overNext = false) => {
      const changes = untilItDiesAway(view.slices, [...ids], diesAway, recording.frames, overNext);
      const rings = changesNothing(changes) && !overNext && ringsOn();
      cut(
        'let sounds end where they die away',
        changes,
        rings
          ? 'The slice ends where the next one starts; Ctrl ; lets its sound ring on over it.'
          : 'The sound ends where it dies away already.',
      );
    },
    lock: () => {
      const locked = slices.some((s) => ids.has(s.id) && !s.locked);
      const changes = lockMarks(view.slices, [...ids], locked);
      cut(locked ? 'locked slices' : 'unlocked slices', changes, 'Choose a slice first.');
    },
    keep: () => {
      if (!chosen || !stretch) {
        tell('Mark the sound to keep by dragging on the wave; the chosen slice then runs to its end.');
        return;
      }
      const changes = keepUpTo(view.slices, chosen.id, stretch.end, recording.frames);
      cut('kept sound after a slice', changes, 'The marked stretch ends before the slice does.');
      setStretch(null);
    },
    sliceStretch: () => {
      if (!stretch) return;
      const made = addStretch({ startFrame: stretch.start, endFrame: stretch.end }, recording.frames);
      const [id] = cut('made a slice of a stretch', made, 'The stretch is too short for a slice.');
      if (id) setChosen(id);
      setStretch(null);
    },
  };
}
