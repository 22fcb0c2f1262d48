import type { Stored } from '@/contract/documents';
import type { KitView, RecordingView, StoredHit } from '@/contract/views';
import type { TreatedHit } from '@/core/hit/key';
import { padAsHit } from '@/core/kit/layered';
import type { Layer, Pad } from '@/core/kit/model';
import { soundingUnder, takesOf } from '@/core/kit/pad-sound';

/** A layer with what it plays. */
export interface HeardLayer {
  readonly layer: Stored<Layer>;
  readonly hit: StoredHit;
  readonly recording: RecordingView;
}

export function heardLayers(view: KitView, layers: readonly Stored<Layer>[]): HeardLayer[] {
  return layers.flatMap((layer) => {
    const hit = view.hits.find((h) => h.id === layer.hitId);
    const recording = view.recordings.find((r) => r.id === hit?.recordingId);
    return hit && recording ? [{ layer, hit, recording }] : [];
  });
}

/** The layers of a pad that sound together under one of its takes: the first, unless another is named. */
export function together<L extends Stored<Layer>>(layers: readonly L[], takeId?: string): readonly L[] {
  const entries = layers.map((layer) => ({ layer }));
  const takes = takesOf(entries);
  const take = takes.find(({ layer }) => layer.id === takeId) ?? takes[0];
  return take ? soundingUnder(entries, take).map(({ layer }) => layer) : [];
}

/** A pad's layers as one sound; null where it has none. Its own tune moves all of them, and their attacks with it. */
export function padSum(heard: readonly HeardLayer[], pad: Pad): { hit: TreatedHit; recording: RecordingView } | null {
  const recording = heard[0]?.recording;
  const tuned = heard.map(({ layer, hit }) => ({
    hit,
    layer: { ...layer, semitones: layer.semitones + pad.semitones, cents: layer.cents + pad.cents },
  }));
  const hit = recording && padAsHit(pad.name, tuned, recording.sampleRate);
  return hit ? { hit, recording } : null;
}
