import { useCallback, useEffect, useRef, useState } from 'react';
import type { Stored } from '@/contract/documents';
import type { KitView } from '@/contract/views';
import { contentKey } from '@/core/hit/render';
import { positionOfKey } from '@/core/kit/layout';
import type { Layer } from '@/core/kit/model';
import type { LayerWithHit } from '@/core/kit/sound';
import { isTyping } from '../parts/focus';
import { complain } from '../parts/notice';
import { openSound, type Sound, soundNow } from './sound';

export type PadState = 'loading' | 'ready' | { readonly error: string };

const KEY_VELOCITY = 110;

/** Keeps the engine's pads as the kit is, and plays them from the computer's keys. */
export function useKitSound(view: KitView | null) {
  const [sound, setSound] = useState<Sound | null>(null);
  const [padStates, setPadStates] = useState<ReadonlyMap<number, PadState>>(new Map());
  const [lit, setLit] = useState<ReadonlySet<number>>(new Set());
  /** What each pad was last prepared from, so that only changed ones are prepared again. */
  const prepared = useRef(new Map<number, string>());

  useEffect(() => {
    openSound().then(setSound, (error: Error) => complain(`Nothing can be heard: ${error.message}`));
  }, []);

  useEffect(() => {
    if (!sound || !view) return;
    const wanted = wantedPads(view);
    for (const position of [...prepared.current.keys()]) {
      if (wanted.has(position)) continue;
      prepared.current.delete(position);
      sound.clearPad(position);
    }
    const recordings = new Map(view.recordings.map((r) => [r.id, r]));
    for (const [position, { pad, layers, signature }] of wanted) {
      if (prepared.current.get(position) === signature) continue;
      prepared.current.set(position, signature);
      const current = () => prepared.current.get(position) === signature;
      const tell = (state: PadState) => current() && setPadStates((old) => new Map(old).set(position, state));
      tell('loading');
      sound.preparePad(pad, layers, recordings, current).then(
        () => tell('ready'),
        (error: Error) => tell({ error: error.message }),
      );
    }
  }, [sound, view]);

  const light = useCallback((position: number, on: boolean) => {
    setLit((old) => {
      if (old.has(position) === on) return old;
      const next = new Set(old);
      if (on) next.add(position);
      else next.delete(position);
      return next;
    });
  }, []);

  const strike = useCallback(
    (position: number, velocity: number) => {
      soundNow()?.engine.strike(position, velocity);
      light(position, true);
    },
    [light],
  );
  const release = useCallback(
    (position: number) => {
      soundNow()?.engine.release(position);
      light(position, false);
    },
    [light],
  );

  useEffect(() => {
    const down = new Map<string, number>();
    const onKeyDown = (event: KeyboardEvent) => {
      if (event.ctrlKey || event.metaKey || event.altKey || event.shiftKey || isTyping(event.target)) return;
      const position = positionOfKey(event.code);
      if (position === null) return;
      event.preventDefault();
      if (event.repeat || down.has(event.code)) return;
      down.set(event.code, position);
      strike(position, KEY_VELOCITY);
    };
    const onKeyUp = (event: KeyboardEvent) => {
      const position = down.get(event.code);
      if (position === undefined) return;
      down.delete(event.code);
      release(position);
    };
    const onBlur = () => {
      for (const position of down.values()) release(position);
      down.clear();
    };
    window.addEventListener('keydown', onKeyDown);
    window.addEventListener('keyup', onKeyUp);
    window.addEventListener('blur', onBlur);
    return () => {
      window.removeEventListener('keydown', onKeyDown);
      window.removeEventListener('keyup', onKeyUp);
      window.removeEventListener('blur', onBlur);
    };
  }, [strike, release]);

  return { padStates, lit, strike, release };
}

function wantedPads(view: KitView) {
  const hits = new Map(view.hits.map((h) => [h.id, h]));
  return new Map(
    view.pads.map((pad) => {
      const layers = view.layers.flatMap((layer): LayerWithHit[] => {
        const hit = hits.get(layer.hitId);
        return layer.padId === pad.id && hit ? [{ layer, hit }] : [];
      });
      // Names and revisions do not sound; everything else does.
      const { name: _name, rev: _rev, ...audible } = pad;
      const signature = JSON.stringify([
        audible,
        layers.map(({ layer, hit }) => {
          const { id: _id, rev: _layerRev, padId: _pad, ...mixed } = layer as Stored<Layer>;
          return [mixed, contentKey(hit)];
        }),
      ]);
      return [pad.position, { pad, layers, signature }] as const;
    }),
  );
}
