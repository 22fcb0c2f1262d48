import { useRouter } from 'next/navigation';
import { useMemo, useState } from 'react';
import type { HitView, RecordingView } from '@/contract/views';
import { SLICE_INITIAL } from '@/core/recording/initial';
import { type MarkedStretch, reveal } from '@/picture/span';
import { leaveControl } from '../parts/focus';
import type { SelectMode } from '../parts/listing';
import type { SpanDesk } from '../parts/use-span';
import { useStable } from '../parts/use-stable';
import { soundNow } from '../sound/open-sound';
import type { Hearing } from './use-hearing';
import type { StoredSlice } from './use-marks';
import { type Selection, useSelection } from './use-selection';

export interface SubjectDesk {
  readonly selection: Selection<StoredSlice>;
  readonly stretch: MarkedStretch | null;
  readonly setStretch: (stretch: MarkedStretch | null) => void;
  /** The slices the stage shows: those of the recording, or the one hit whose edges are shown. */
  readonly slices: readonly StoredSlice[];
  /** What loupes and keys apply to: the hit whose edges are shown, else the chosen slice. */
  readonly subject: StoredSlice | undefined;
  readonly selected: ReadonlySet<string>;
  /** Chooses a slice and sounds it; a hit that is shown is left. */
  readonly choose: (id: string | null, how?: SelectMode, order?: readonly string[]) => void;
  /** Chooses the slice so many places on. */
  readonly step: (by: number, how?: SelectMode) => void;
  readonly leaveHit: () => void;
  /** An action on slices, which does nothing while a hit hides them. */
  readonly onSlices: (act: () => void) => () => void;
}

/** Which slice, stretch or hit is worked on. */
export function useSubject(
  recording: RecordingView,
  slices: readonly StoredSlice[],
  hit: HitView | undefined,
  spans: SpanDesk,
  hear: Hearing['hear'],
): SubjectDesk {
  const router = useRouter();
  const selection = useSelection(slices);
  const { chosen, index, ids, setChosen } = selection;
  const [stretch, setStretch] = useState<MarkedStretch | null>(null);
  const shown = useMemo(() => (hit ? hitAsSlice(hit) : null), [hit]);
  const leaveHit = () => router.replace(`/slice/${recording.id}`);

  const choose = useStable((id: string | null, how: SelectMode = 'alone', order?: readonly string[]) => {
    if (hit && id === hit.id) {
      hear(hit.startFrame, hit.endFrame, hit);
      return;
    }
    if (hit && id !== null) leaveHit();
    setChosen(id, how, order);
    setStretch(null);
    const slice = slices.find((s) => s.id === id);
    if (!slice) {
      if (id === null) soundNow()?.audition.stop();
      return;
    }
    spans.set((s) => reveal(s, slice.startFrame, slice.endFrame, spans.width(), recording.frames));
    if (how === 'alone') hear(slice.startFrame, slice.endFrame);
  });
  const step = (by: number, how: SelectMode = 'alone') => {
    leaveControl();
    const next = slices[index < 0 ? (by > 0 ? 0 : slices.length - 1) : index + by];
    if (next) choose(next.id, how);
  };
  return {
    selection,
    stretch,
    setStretch,
    slices: useMemo(() => (shown ? [shown] : slices), [shown, slices]),
    subject: shown ?? chosen,
    selected: useMemo(() => (shown ? new Set([shown.id]) : ids), [shown, ids]),
    choose,
    step,
    leaveHit,
    onSlices: (act) => () => {
      if (!hit) act();
    },
  };
}

/** A hit as if it were the one slice of its recording, so that its own edges are shown and moved. */
function hitAsSlice({ id, rev, recordingId, startFrame, endFrame, family, name }: HitView): StoredSlice {
  return { ...SLICE_INITIAL, id, rev, recordingId, startFrame, endFrame, family, name, origin: 'hand' };
}
