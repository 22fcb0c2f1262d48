import type { Stored } from '@/contract/documents';
import type { KitView, RecordingView, StoredHit } from '@/contract/views';
import type { Layer, Pad } from '@/core/kit/model';
import type { LayerToSum } from '@/worker/layers';

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

/** Layers as they go into the pad's sum: its own tune moves all of them, and their attacks with it. */
export function toSum(heard: readonly HeardLayer[], pad: Pad): LayerToSum[] {
  return heard.map(({ layer, hit, recording }) => ({
    hit,
    recording,
    layer: { ...layer, semitones: layer.semitones + pad.semitones, cents: layer.cents + pad.cents },
  }));
}
