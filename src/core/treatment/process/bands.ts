import { compressorGainDb } from '../../dynamics/compress';
import { addShaped, linear } from '../../dynamics/followers';
import { filtered } from '../../filter/biquad';
import { bandFilters } from '../../filter/crossover';
import type { bands as declared } from '../bands';
import type { Process } from '../processor';

const KNEE_DB = 6;
/** The edges lie at least this factor apart: a higher one that is set lower is moved up. */
const LEAST_APART = 1.2;

/** Bands by Linkwitz-Riley filters, which add up flat; the unchanged part of the mix goes through the same filters. */
export const bands: Process<typeof declared.parameters> = (audio, values) => {
  const { ratio, attackMs, releaseMs, mix, lowEdgeHz, lowGainDb, middleGainDb, highGainDb } = values;
  const gains = [lowGainDb, middleGainDb, highGainDb];
  if (ratio === 1 && gains.every((db) => db === 0)) return audio;
  const most = 0.45 * audio.sampleRate;
  const low = Math.min(most / LEAST_APART, lowEdgeHz);
  const high = Math.min(most, Math.max(low * LEAST_APART, values.highEdgeHz));
  const thresholds = [values.lowThresholdDb, values.middleThresholdDb, values.highThresholdDb];
  const channels = audio.channels.map((channel) => new Float32Array(channel.length));
  for (const [b, filters] of bandFilters([low, high], audio.sampleRate).entries()) {
    const band = { ...audio, channels: audio.channels.map((channel) => filtered(channel, filters)) };
    const thresholdDb = thresholds[b] as number;
    const settings = { thresholdDb, ratio, kneeDb: KNEE_DB, attackMs, releaseMs, lookAheadMs: 0, by: 'peak' } as const;
    const by = linear(compressorGainDb(band, settings), gains[b]);
    for (const [c, sum] of channels.entries()) addShaped(sum, band.channels[c] as Float32Array, by, mix);
  }
  return { ...audio, channels };
};
