import { Echoing } from '../../live/echoing';
import { ECHO, STEP_FLOATS, toneOf } from '../../live/figures';
import { frameCount, toStereo } from '../../signal/audio';
import { msToFrames } from '../../signal/units';
import type { echo as declared } from '../echo';
import type { Process } from '../processor';

/** What comes after the last echo that is louder than this is left out, in dB under the first. */
const HEARD_DB = 80;
const LONGEST_TAIL_S = 30;

/** As long as the echoes are heard; of one channel it stays one unless they go to and fro. */
export const echo: Process<typeof declared.parameters> = (audio, { timeMs, feedback, toneHz, sides, mix }) => {
  const frames = frameCount(audio);
  if (mix === 0 || frames === 0) return audio;
  const rate = audio.sampleRate;
  const length = Math.max(1, Math.round(msToFrames(timeMs, rate)));
  const times = feedback === 0 ? 1 : 1 + Math.ceil(HEARD_DB / (-20 * Math.log10(feedback)));
  const crosses = sides === 'to-and-fro';
  const total = frames + Math.min(times * length, LONGEST_TAIL_S * rate);
  const given = audio.channels.length === 2 ? audio.channels : toStereo(audio);
  const wet = given.map((side) => {
    const whole = new Float64Array(total);
    whole.set(side as Float32Array);
    return whole;
  }) as [Float64Array, Float64Array];
  const memory = new Float32Array(2 * length);
  const echoing = new Echoing();
  echoing.reset(memory, 0, length);
  const now = new Float64Array(STEP_FLOATS);
  now[ECHO.feedback] = feedback;
  now[ECHO.tone] = toneOf(toneHz, rate);
  echoing.process(memory, ...wet, 0, total, now, crosses);
  const isMono = audio.channels.length === 1 && !crosses;
  const channels = wet.slice(0, isMono ? 1 : 2).map((side, c) => {
    const dry = given[c] as Float32Array;
    return Float32Array.from(side, (x, i) => mix * x + (1 - mix) * (dry[i] ?? 0));
  });
  return { ...audio, channels };
};
