import type { PadSound } from '../play/program';
import { peakOf } from '../signal/audio';
import { type PlayedPad, soundingUnder } from './pad-sound';
import type { OpenHit, PrintedStroke, Printing } from './print';
import { playedSounds, poolSounds, wholeStroke } from './render';
import { printedWhole } from './told-in-sfz';

/** What is no louder than this at the end of a print is left out, linear. */
const SILENCE = 1e-5;

/**
 * Prints a stroke of a pad with all that shapes it, its steps included, but for what of its velocity and its chances is left
 * to the player. It is played once to know its length, and again when it is read, so that it is not held.
 */
export function printingWhole(
  played: PlayedPad,
  open: OpenHit,
  { velocity, take }: PrintedStroke,
  tempoBpm: number,
): Printing {
  const inRange = played.layers.filter(({ layer: l }) => velocity >= l.lowVelocity && velocity <= l.highVelocity);
  const layers = take ? soundingUnder(inRange, take) : inRange;
  const pad = printedWhole(played.pad);
  const pool = () =>
    poolSounds(
      layers.map(({ hit }) => hit),
      open,
    );
  const render = () => {
    const sounds = pool();
    const sampleRate = (layers[0] && sounds.soundOf(layers[0].hit)?.sampleRate) ?? 48_000;
    const ready = playedSounds([{ ...played, pad, layers }], sounds, sampleRate, tempoBpm);
    const sides = wholeStroke(ready.sounds[0] as PadSound, ready.memory, sampleRate, velocity);
    return { sampleRate, sides };
  };
  const { sampleRate, sides } = render();
  const frames = heardFrames(sides);
  const peak = peakOf(sides);
  const isMono = sides[0].every((x, i) => x === sides[1][i]);
  return {
    sampleRate,
    channelCount: isMono ? 1 : 2,
    frames,
    loop: null,
    // biome-ignore lint/correctness/useYield: nothing is left to search
    *peak() {
      return peak;
    },
    *blocks(gain = 1) {
      const cut = render().sides.map((side) => side.subarray(0, frames).map((x) => x * gain));
      yield isMono ? cut.slice(0, 1) : cut;
    },
  };
}

function heardFrames(sides: readonly Float32Array[]): number {
  let last = 0;
  for (const side of sides)
    for (let i = side.length - 1; i >= last; i--)
      if (Math.abs(side[i] as number) > SILENCE) {
        last = i + 1;
        break;
      }
  return last;
}
