import { useCallback, useEffect, useState } from 'react';
import type { CutView, HitView, RecordingView } from '@/contract/views';
import type { Candidate } from '@/core/onset/detect';
import { changesNothing, type MarkChanges, moveEnd, moveStart, NO_CHANGES } from '@/core/onset/marks';
import { nearestAttack, nearestZero, type Snap } from '@/core/onset/snap';
import type { WaveSource } from '@/picture/wave-source';
import { useCommands } from '../data/commit';
import { dropDraft, setDraft } from '../data/drafts';
import { type Edge, trimmed } from '../hits/edits';
import type { Gestures } from './use-gestures';
import { type HeldEdges, holdUntil } from './use-held';
import type { Marks, StoredSlice } from './use-marks';
import type { SubjectDesk } from './use-subject';

/** Distance within which an edge snaps to an attack or a zero crossing, in seconds. */
const REACH_S = { attack: 0.03, zero: 0.01 } as const;

const SNAP_KEY = 'undercroft.snap';

/** What dragged edges snap to; kept between visits. */
export function useSnap(): readonly [Snap, (snap: Snap) => void] {
  const [snap, set] = useState<Snap>('free');
  useEffect(() => {
    const kept = localStorage.getItem(SNAP_KEY);
    if (kept === 'attack' || kept === 'zero') set(kept);
  }, []);
  return [
    snap,
    (wanted) => {
      localStorage.setItem(SNAP_KEY, wanted);
      set(wanted);
    },
  ];
}

/** The frame an edge snaps to. */
export function snapped(
  snap: Snap,
  edge: Edge,
  frame: number,
  candidates: readonly Candidate[],
  source: WaveSource,
  sampleRate: number,
): number {
  if (snap === 'attack' && edge === 'start')
    return nearestAttack(candidates, frame, REACH_S.attack * sampleRate) ?? frame;
  if (snap === 'free') return frame;
  // Ends snap to zero crossings in both modes: there is no attack at an end.
  return nearestZero((i) => source.sample(i), frame, Math.round(REACH_S.zero * sampleRate)) ?? frame;
}

export interface EdgeDesk {
  /** Moves an edge: as a draft while dragged, stored when `done`. */
  readonly move: (id: string, edge: Edge, frame: number, done: boolean) => void;
  /** Moves an edge of what is worked on by so many frames. */
  readonly nudge: (edge: Edge, frames: number) => void;
  /** Sets the end of what is worked on to where its sound has died away. */
  readonly letDie: (overNext?: boolean) => void;
}

/** The edges of the slices or of the hit that is shown. */
export function useEdges(
  view: CutView,
  marks: Marks,
  hit: HitView | undefined,
  { selection, subject, setStretch }: SubjectDesk,
  gestures: Gestures,
  held: HeldEdges,
): EdgeDesk {
  const moveSlice = useSliceEdges(view.slices, marks, held, view.recording.frames);
  const moveHit = useHitEdges(hit, view.recording, held);
  const chosenId = selection.chosen?.id;
  const { setChosen } = selection;
  const move = useCallback(
    (id: string, edge: Edge, frame: number, done: boolean) => {
      if (hit) {
        moveHit(edge, frame, done);
        return;
      }
      if (id !== chosenId) setChosen(id);
      setStretch(null);
      moveSlice(id, edge, frame, done);
    },
    [hit, moveHit, moveSlice, setChosen, setStretch, chosenId],
  );
  return {
    move,
    nudge: (edge, frames) => {
      if (subject) move(subject.id, edge, (edge === 'start' ? subject.startFrame : subject.endFrame) + frames, true);
    },
    letDie: (overNext = false) =>
      hit ? moveHit('end', gestures.endOf(hit, overNext), true) : gestures.letDie(overNext),
  };
}

/** Moves the edges of slices: shown while they are in hand, stored when they are let go. */
function useSliceEdges(
  stored: readonly StoredSlice[],
  { store }: Marks,
  held: HeldEdges,
  totalFrames: number,
): (id: string, edge: Edge, frame: number, done: boolean) => void {
  return useCallback(
    (id, edge, frame, done) => {
      const changes: MarkChanges =
        edge === 'start' ? moveStart(stored, id, frame) : moveEnd(stored, id, frame, totalFrames);
      if (!done) held.set(changes);
      else if (changesNothing(changes)) held.set(null);
      else holdUntil(held, changes, store(edge === 'start' ? 'moved a mark' : 'moved an end', changes).stored);
    },
    [stored, totalFrames, held, store],
  );
}

/** The same for a hit: every pad that plays it follows, also while an edge is in hand. */
export function useHitEdges(
  hit: HitView | undefined,
  recording: RecordingView,
  held: HeldEdges,
): (edge: Edge, frame: number, done: boolean) => void {
  const { commit } = useCommands();
  return useCallback(
    (edge, frame, done) => {
      if (!hit) return;
      const { id, rev, name } = hit;
      const set = trimmed(hit, recording, edge, frame);
      const changes: MarkChanges = { ...NO_CHANGES, update: [{ id, set }] };
      if (!done) {
        held.set(changes);
        setDraft('hit', id, set);
        return;
      }
      const stays = edge === 'start' ? set.startFrame === hit.startFrame : set.endFrame === hit.endFrame;
      if (stays) held.set(null);
      else
        holdUntil(held, changes, commit(`moved the ${edge} of ${name}`, [{ op: 'update', doc: 'hit', id, rev, set }]));
      dropDraft('hit', id);
    },
    [hit, recording, commit, held],
  );
}
