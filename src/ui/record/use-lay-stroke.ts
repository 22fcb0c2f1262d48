import { useQueryClient } from '@tanstack/react-query';
import { useRef } from 'react';
import type { RecordingView } from '@/contract/views';
import { getJson } from '../data/api';
import { keys } from '../data/queries';
import { useKitDesk } from '../pads/kit-context';
import { complain, tell } from '../parts/notice';
import { recorder } from './recorder';

/**
 * Lays a stroke of the running take on the chosen pad, or on the next free one where that has a sound: the one at a frame, or
 * the last that has fallen. It becomes a recording of its own, since the take is not there yet.
 */
export function useLayStroke(frame: number | null): () => Promise<void> {
  const client = useQueryClient();
  const desk = useKitDesk();
  // The kit when the stroke is stored.
  const now = useRef(desk);
  now.current = desk;
  const run = async () => {
    const { strokes } = recorder.take;
    const stroke = strokes.find((one) => one.frame === frame) ?? strokes.at(-1);
    if (!stroke) {
      tell('No stroke has fallen yet.');
      return;
    }
    const answer = await recorder.keepStroke(stroke);
    if (!answer) {
      tell('That stroke is too far back to be laid from here; lay it from the take on Slice.');
      return;
    }
    const recording = await getJson<RecordingView>(`/api/recordings/${answer.recordingId}`);
    await client.invalidateQueries({ queryKey: keys.recordings });
    const { chosen, view, lay } = now.current;
    const isFree = chosen !== null && view?.pads.every(({ position }) => position !== chosen);
    const { frames, title } = recording;
    lay(
      { recording, startFrame: 0, endFrame: frames, sliceId: null, family: null, number: 1, title },
      isFree ? chosen : null,
      'next',
    );
  };
  return () => run().catch((error: Error) => complain(error.message));
}
