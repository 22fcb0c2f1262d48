import { frameCount } from '../../src/core/signal/audio';
import { renderVoice } from '../../src/core/voice/render';
import { STARTING_POINTS, type StartingPoint } from '../../src/core/voice/starting-points';
import { median, type Row, timed } from './rows';

const RATE = 48_000;
const VOICES = 32;

/** Strokes of 32 struck voices at once, of every starting point: what they take, against the time that they sound together. */
export function voiceRow(): Row {
  const strokes = Array.from(
    { length: VOICES },
    (_, n) => STARTING_POINTS[n % STARTING_POINTS.length] as StartingPoint,
  );
  let seconds = 0;
  const render = () => {
    seconds = 0;
    for (const [n, { voice }] of strokes.entries())
      seconds += frameCount(renderVoice(voice, 40 + 2 * n, n, RATE)) / RATE;
  };
  render();
  const ms = median(Array.from({ length: 5 }, () => timed(render)));
  const ratio = ms / 1000 / (seconds / VOICES);
  return {
    what: `${VOICES} struck voices at once, one core`,
    figure: `${ratio.toFixed(3)} of real time`,
    beside: `${seconds.toFixed(1)} s of strokes in ${ms.toFixed(0)} ms`,
    floor: 'at most 0.35',
    met: ratio <= 0.35,
  };
}
