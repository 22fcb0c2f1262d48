'use client';

import { useCallback } from 'react';
import type { RecordingView } from '@/contract/views';
import { endOfSound } from '@/core/onset/ends';
import type { Time } from '@/picture/time';
import { useCut, useHits, useLevels } from '../data/queries';
import type { Edge } from '../hits/edits';
import { useWaveSource } from '../parts/MiniWave';
import { Loupes } from '../slice/Loupes';
import { snapped, useHitEdges, useSnap } from '../slice/use-edges';
import { useHeld } from '../slice/use-held';
import { usePictures } from '../slice/use-pictures';

/** Start and end of a hit on its recording, magnified; the treated sound follows while an edge is dragged. */
export function EdgeLoupes({ hitId, recording }: { hitId: string; recording: RecordingView }) {
  const { source } = useWaveSource(recording);
  // As it is stored: the loupes stay fixed around it while the draft moves.
  const hit = useHits().data?.find(({ id }) => id === hitId);
  const candidates = useCut(recording.id).data?.candidates ?? NONE;
  const levels = useLevels(recording.id, recording.analysed);
  const held = useHeld();
  const pictures = usePictures(recording, held);
  const [snap, setSnap] = useSnap();
  const move = useHitEdges(hit, recording, held);
  const { sampleRate, frames } = recording;
  const time: Time = { unit: 'seconds', sampleRate, grid: null };
  const drawnTo = useCallback(
    (edge: Edge, frame: number) => snapped(snap, edge, frame, candidates, source, sampleRate),
    [snap, candidates, source, sampleRate],
  );
  return (
    <div className="flex min-w-0 flex-1 gap-2">
      <Loupes
        {...{ recording, source, pictures, time, held, snap, setSnap, drawnTo }}
        subject={hit}
        rest={hit}
        onMove={(_id, edge, frame, done) => move(edge, frame, done)}
        onLetDie={() =>
          hit && move('end', endOfSound(hit.startFrame, false, { candidates, levels, sampleRate, frames }), true)
        }
      />
    </div>
  );
}

const NONE: never[] = [];
