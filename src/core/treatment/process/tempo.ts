import { detectOnsets } from '../../onset/detect';
import { selectOnsets } from '../../onset/select';
import { type Audio, frameCount, toMono } from '../../signal/audio';
import { msToFrames } from '../../signal/units';
import { fittedSeconds } from '../../stretch/beats';
import { stretched } from '../../stretch/stretch';
import type { Process } from '../processor';
import type { tempo as declared } from '../tempo';

/** What of each stroke is copied, and how long before it the one before gives way, in ms. */
const [ATTACK_MS, JOIN_MS] = [20, 3] as const;

export const tempo: Process<typeof declared.parameters> = (audio, { fromBpm, toBpm, strokes }) => {
  const { sampleRate } = audio;
  const frames = frameCount(audio);
  const factor = fromBpm / toBpm;
  const total = Math.round(fittedSeconds(frames / sampleRate, fromBpm, toBpm) * sampleRate);
  if (frames === 0 || fromBpm === toBpm) return audio;
  const join = Math.round(msToFrames(JOIN_MS, sampleRate));
  const starts =
    strokes.length > 0 ? strokes.map(({ atMs }) => Math.round(msToFrames(atMs, sampleRate))) : found(audio);
  const inside = [...new Set([0, ...starts.filter((at) => at > join && at < frames)])].sort((a, b) => a - b);
  const channels = audio.channels.map(() => new Float32Array(total));
  for (const [i, start] of inside.entries()) {
    const end = inside[i + 1];
    // From a little before the stroke to the beginning of the next, which the same time is laid over.
    const before = i === 0 ? 0 : join;
    const from = start - before;
    const to = end ?? frames;
    const outFrom = Math.round(start * factor) - before;
    const outTo = end === undefined ? total : Math.min(total, Math.round(end * factor));
    const wanted = outTo - outFrom;
    if (wanted <= 0) continue;
    const kept = Math.min(before + Math.round(msToFrames(ATTACK_MS, sampleRate)), to - from, wanted);
    const part = { ...audio, channels: audio.channels.map((channel) => channel.slice(from, to)) };
    const made = stretched(part, kept, to - from === kept ? 1 : (wanted - kept) / (to - from - kept));
    for (const [c, channel] of made.channels.entries()) {
      const out = channels[c] as Float32Array;
      for (let n = 0; n < wanted && n < channel.length && outFrom + n < total; n++) {
        const rise = n < before ? n / before : 1;
        const fall = end !== undefined && n >= wanted - join ? (wanted - n) / join : 1;
        const at = outFrom + n;
        if (at >= 0) out[at] = (out[at] as number) + rise * fall * (channel[n] as number);
      }
    }
  }
  return { ...audio, channels };
};

/** Where the strokes of a sound begin. */
function found(audio: Audio): number[] {
  const mono = toMono(audio);
  return selectOnsets(detectOnsets(mono, audio.sampleRate), {}, audio.sampleRate).map(({ frame }) => frame);
}
