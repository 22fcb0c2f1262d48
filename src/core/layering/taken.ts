import { toMono } from '../signal/audio';
import { Addition, mendsOf } from './addition';
import type { LayerSound } from './layers';
import { attackOf, bestLag } from './line-up';

/** A polarity is turned where that gives back so much under 200 Hz, in dB. */
const TURN_FROM_DB = 1;

/** What layers are lined up by. */
export const LINE_UP_BY = ['attack', 'lows'] as const;
export type LineUpBy = (typeof LINE_UP_BY)[number];
/** Layers are moved by their lows up to so far, in seconds. */
const MOST_LAG_S = 0.05;

/** The layers moved so that their attacks, or their lows, lie on those of the first one, which stays where it is. */
export function linedUp(layers: readonly LayerSound[], by: LineUpBy = 'attack'): LayerSound[] {
  const [first] = layers;
  if (by === 'lows' && first) {
    const { sampleRate } = first.audio;
    const fixed = toMono(first.audio);
    const most = Math.round(MOST_LAG_S * sampleRate);
    return layers.map((l, i) => {
      if (i === 0) return l;
      const { frames } = bestLag(fixed, toMono(l.audio), most, sampleRate);
      return { ...l, offsetFrames: first.offsetFrames + frames };
    });
  }
  const attacks = layers.map((l) => attackOf(toMono(l.audio), l.audio.sampleRate));
  const at = (layers[0]?.offsetFrames ?? 0) + (attacks[0] ?? 0);
  return layers.map((l, i) => ({ ...l, offsetFrames: at - (attacks[i] as number) }));
}

/** The polarities turned that give back lows, one after another. */
export function turned(layers: readonly LayerSound[]): LayerSound[] {
  const now = [...layers];
  for (let i = 1; i < now.length; i++) {
    const room = Math.max(0, ...now.map((l) => Math.abs(l.offsetFrames)));
    const other = now.map((l, n) => (n === i ? { ...l, inverted: !l.inverted } : l));
    const addition = new Addition(now, room);
    if (addition.gainDb(20, 200, other) - addition.gainDb(20, 200) >= TURN_FROM_DB) now[i] = other[i] as LayerSound;
  }
  return now;
}

/** The best mends taken, one after another, as long as they give something back. */
export function mended(layers: readonly LayerSound[]): LayerSound[] {
  let now = [...layers];
  for (let round = 0; round < layers.length; round++) {
    const [best] = mendsOf(now);
    if (!best) break;
    now = now.map((l, n) =>
      n === best.layer ? { ...l, offsetFrames: l.offsetFrames + best.frames, inverted: l.inverted !== best.turns } : l,
    );
  }
  return now;
}
