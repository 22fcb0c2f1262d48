import { useEffect, useMemo, useState } from 'react';
import type { Stored } from '@/contract/documents';
import type { KitView } from '@/contract/views';
import { contentKey } from '@/core/hit/key';
import { type Key, soundingHz } from '@/core/kit/key';
import type { Kit, Pad } from '@/core/kit/model';
import { NO_KEY } from '@/core/kit/parameters';
import { openSound } from '../../sound/open-sound';

/** A pad with a pitch. */
export interface Tonal {
  readonly pad: Stored<Pad>;
  /** What its first sound is heard or set to be, as it is laid on the pad, in hertz. */
  readonly rootHz: number;
  /** What it sounds at in the kit. */
  readonly hz: number;
}

/** Roots that were asked for, by what the sound is made of; null for those without one. */
const known = new Map<string, number | null>();

/** The pads of a kit that have a pitch, in their order; whether any is still being listened to. */
export function useTonal(view: KitView): { readonly tonal: readonly Tonal[]; readonly listens: boolean } {
  const [heard, setHeard] = useState(0);
  const sounds = useMemo(
    () =>
      view.pads.flatMap((pad) => {
        const layer = view.layers.find(({ padId }) => padId === pad.id);
        const hit = view.hits.find(({ id }) => id === layer?.hitId);
        const recording = view.recordings.find(({ id }) => id === hit?.recordingId);
        return layer && hit && recording ? [{ pad, layer, hit, recording, key: contentKey(hit) }] : [];
      }),
    [view],
  );
  useEffect(() => {
    let isWanted = true;
    const listen = async () => {
      const { samples } = await openSound();
      for (const { hit, recording, key } of sounds) {
        if (!isWanted) return;
        if (known.has(key)) continue;
        // A sound that cannot be rendered says so on its pad; the others are listened to all the same.
        const heardHz = await samples.inspect(hit, recording).then(
          ({ figures }) => figures.rootHz,
          () => null,
        );
        known.set(key, heardHz);
        setHeard((n) => n + 1);
      }
    };
    // Where no sound can be opened the page has said so.
    listen().catch(() => {});
    return () => {
      isWanted = false;
    };
  }, [sounds]);
  return useMemo(() => {
    void heard;
    const tonal = sounds.flatMap(({ pad, layer, key }): Tonal[] => {
      const root = known.get(key);
      if (root === null || root === undefined) return [];
      const rootHz = soundingHz(root, layer);
      return [{ pad, rootHz, hz: soundingHz(rootHz, pad, view.kit.transpose) }];
    });
    return { tonal, listens: sounds.some(({ key }) => !known.has(key)) };
  }, [sounds, heard, view.kit.transpose]);
}

/** A kit's key; null where it has none. */
export function keyOf({ tonic, scale }: Pick<Kit, 'tonic' | 'scale'>): Key | null {
  return tonic === NO_KEY ? null : { tonic, scale };
}
