import type { Family } from '../family';
import type { Features } from './features';

interface Bounds {
  readonly lowShare?: readonly [number, number];
  readonly centroidHz?: readonly [number, number];
  readonly fall40Seconds?: readonly [number, number];
}

/**
 * Extreme features of each family: wide bounds, because a name is only doubted where the sound clearly contradicts it.
 * Common practice; set on the General MIDI percussion of the tuning fonts and measured on that of the report fonts by
 * `npm run names`.
 */
const BOUNDS: Readonly<Partial<Record<Family, Bounds>>> = {
  kick: { centroidHz: [0, 3500], lowShare: [0.15, 1] },
  snare: { centroidHz: [250, 9000], lowShare: [0, 0.93] },
  rim: { centroidHz: [300, 9000], fall40Seconds: [0, 1.2] },
  clap: { centroidHz: [500, 9000], lowShare: [0, 0.4] },
  'closed hat': { centroidHz: [2500, 20000], lowShare: [0, 0.25], fall40Seconds: [0, 0.7] },
  'open hat': { centroidHz: [1800, 20000], lowShare: [0, 0.25], fall40Seconds: [0.08, 20] },
  tom: { centroidHz: [0, 3500] },
  cymbal: { centroidHz: [1200, 20000], lowShare: [0, 0.4], fall40Seconds: [0.15, 30] },
};

/** One sentence on why a sound can hardly belong to a family, or an empty string. */
export function doubtOf(family: Family, features: Features): string {
  const bounds = BOUNDS[family];
  if (!bounds) return '';
  const { centroidHz, lowShare, fall40Seconds } = bounds;
  const named = `Named ${family.startsWith('o') ? 'an' : 'a'} ${family}`;
  const hz = Math.round(features.centroidHz);
  const percent = Math.round(features.lowShare * 100);
  if (centroidHz && features.centroidHz > centroidHz[1])
    return `${named}, but the sound lies high (centre of its spectrum ${hz} Hz).`;
  if (centroidHz && features.centroidHz < centroidHz[0])
    return `${named}, but the sound lies low (centre of its spectrum ${hz} Hz).`;
  if (lowShare && features.lowShare > lowShare[1]) return `${named}, but ${percent} % of its power lies under 250 Hz.`;
  if (lowShare && features.lowShare < lowShare[0])
    return `${named}, but only ${percent} % of its power lies under 250 Hz.`;
  const ms = Math.round(features.fall40Seconds * 1000);
  if (fall40Seconds && features.fall40Seconds > fall40Seconds[1])
    return `${named}, but it rings long (${ms} ms to fall by 40 dB).`;
  if (fall40Seconds && features.fall40Seconds < fall40Seconds[0])
    return `${named}, but it is over at once (${ms} ms to fall by 40 dB).`;
  return '';
}
