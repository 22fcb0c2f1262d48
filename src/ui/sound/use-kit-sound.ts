import { useEffect, useMemo, useRef, useState } from 'react';
import type { Stored } from '@/contract/documents';
import type { KitView } from '@/contract/views';
import { contentKey } from '@/core/hit/key';
import { placedBuses, routeOf } from '@/core/kit/buses';
import { fittedHit } from '@/core/kit/fit';
import type { Layer, Pad } from '@/core/kit/model';
import { kitSound, type LayerWithHit } from '@/core/kit/pad-sound';
import { KIT_INITIAL, type KitValues } from '@/core/kit/parameters';
import { struckLayers } from '@/core/kit/struck';
import { asKitHas } from '@/core/kit/whole-kit';
import { withStepOff } from '@/core/treatment/step-off';
import { complain } from '../parts/notice';
import { useStore } from '../parts/store';
import { heardBefore } from './heard-before';
import { openSound } from './open-sound';
import type { Sound } from './sound';

interface Told {
  readonly signature: string;
  readonly state: PadState;
}

const NO_PADS: ReturnType<typeof wantedPads> = new Map();
const NO_STATES: ReadonlyMap<number, PadState> = new Map();

/** Longer than a pad holds on to the sound that it had before. */
const RETRY_MS = 400;

export type PadState = 'loading' | 'ready' | { readonly error: string };

/** Keeps the engine's pads up to date with the kit, and reports the state of each. */
export function useKitSound(view: KitView | null): ReadonlyMap<number, PadState> {
  const [sound, setSound] = useState<Sound | null>(null);
  /** What was last told of each pad, and what that was prepared from. */
  const [told, setTold] = useState<ReadonlyMap<number, Told>>(new Map());
  const wanted = useMemo(() => (view ? wantedPads(view) : NO_PADS), [view]);
  /** What each pad was last prepared from, so that only changed ones are prepared again. */
  const prepared = useRef(new Map<number, string>());
  /** Pads whose sound could not be had. They are tried again when another pad has given up what it held. */
  const failed = useRef(new Set<number>());
  const [freed, setFreed] = useState(0);

  useEffect(() => {
    openSound().then(setSound, (error: Error) => complain(`Nothing can be heard: ${error.message}`));
  }, []);

  useEffect(() => {
    if (!sound || !view) return;
    void freed;
    const tryAgain = () => {
      if (failed.current.size > 0) setTimeout(() => setFreed((n) => n + 1), RETRY_MS);
    };
    for (const position of [...prepared.current.keys()]) {
      if (wanted.has(position)) continue;
      tryAgain();
      prepared.current.delete(position);
      failed.current.delete(position);
      setTold((old) => new Map([...old].filter(([other]) => other !== position)));
      sound.clearPad(position);
    }
    const recordings = new Map(view.recordings.map((r) => [r.id, r]));
    for (const [position, { pad, layers, steps, route, signature }] of wanted) {
      const isOld = prepared.current.get(position) === signature;
      if (isOld && !failed.current.delete(position)) continue;
      prepared.current.set(position, signature);
      const current = () => prepared.current.get(position) === signature;
      const tell = (state: PadState) => current() && setTold((old) => new Map(old).set(position, { signature, state }));
      sound.preparePad(pad, layers, steps, recordings, view.kit.tempoBpm, route, current).then(
        () => {
          tell('ready');
          if (!isOld) tryAgain();
        },
        (error: Error) => {
          if (current()) failed.current.add(position);
          tell({ error: error.message });
        },
      );
    }
  }, [sound, view, wanted, freed]);

  useBuses(sound, view);

  const { id, tempoBpm: _tempo, ...values } = view?.kit ?? { ...KIT_INITIAL, id: '' };
  const ofKit = JSON.stringify(values);
  useEffect(() => {
    const kit: KitValues = { ...KIT_INITIAL, ...JSON.parse(ofKit) };
    sound?.engine.setKit(kitSound(id, kit), kit.limiter);
  }, [sound, id, ofKit]);

  return useMemo(() => {
    if (!sound) return NO_STATES;
    // What was told of a pad as it was before is not true of it now.
    const stateOf = (position: number, signature: string): PadState => {
      const last = told.get(position);
      return last?.signature === signature ? last.state : 'loading';
    };
    return new Map([...wanted].map(([position, { signature }]) => [position, stateOf(position, signature)]));
  }, [sound, wanted, told]);
}

/** Keeps the engine's buses up to date with the kit. */
function useBuses(sound: Sound | null, view: KitView | null): void {
  const before = useStore(heardBefore);
  const prepared = useRef(new Map<number, string>());
  useEffect(() => {
    if (!sound || !view) return;
    const placed = new Map(placedBuses(view.buses).map(({ bus, place }) => [place, bus]));
    for (const place of new Set([...prepared.current.keys(), ...placed.keys()])) {
      const stored = placed.get(place) ?? null;
      const isBefore = before !== null && before.busId === stored?.id;
      const bus = stored && isBefore ? { ...stored, levelDb: stored.levelDb + before.gainDb } : stored;
      const own = view.busSteps.filter(({ busId }) => busId === bus?.id);
      const steps = isBefore ? withStepOff(own, before.stepId) : own;
      const { name: _name, rev: _rev, position: _position, ...audible } = bus ?? { name: '', rev: 0, position: 0 };
      const signature = JSON.stringify([audible, view.kit.tempoBpm, steps.map(({ rev: _stepRev, ...step }) => step)]);
      if (prepared.current.get(place) === signature) continue;
      prepared.current.set(place, signature);
      const current = () => prepared.current.get(place) === signature;
      sound
        .prepareBus(place, bus, steps, view.kit.tempoBpm, current)
        .catch((error: Error) => complain(`The bus ${bus?.name ?? place} cannot be heard: ${error.message}`));
    }
  }, [sound, view, before]);
}

/** The pads of a kit by position, the lowest first: those get what room there is. */
function wantedPads(view: KitView) {
  const hits = new Map(view.hits.map((h) => [h.id, h]));
  return new Map(
    asKitHas(view.pads, view.kit)
      .toSorted((a, b) => a.position - b.position)
      .map((pad) => {
        const layers = struckLayers(
          view.layers.flatMap((layer): LayerWithHit[] => {
            const hit = hits.get(layer.hitId);
            return layer.padId === pad.id && hit ? [{ layer, hit: fittedHit(pad, hit, view.kit.tempoBpm) }] : [];
          }),
        );
        const steps = view.steps.filter(({ padId }) => padId === pad.id);
        const route = routeOf(pad, view.buses);
        // Names and revisions are inaudible.
        const { name: _name, rev: _rev, role: _role, alone: _alone, busId: _bus, ...audible } = pad as Stored<Pad>;
        const signature = JSON.stringify([
          audible,
          route,
          view.kit.tempoBpm,
          steps.map(({ rev: _stepRev, ...step }) => step),
          layers.map(({ layer, hit }) => {
            const { id: _id, rev: _layerRev, padId: _pad, ...mixed } = layer as Stored<Layer>;
            return [mixed, contentKey(hit)];
          }),
        ]);
        return [pad.position, { pad, layers, steps, route, signature }] as const;
      }),
  );
}
