import { UndercroftError } from '../errors';
import { oneLine } from '../naming/safe-names';

/**
 * The opcodes that are written, with their ranges (rgc:audio, "SFZ format" version 1: sample playback, instrument
 * settings, performance parameters).
 */
const OPCODES = {
  key: [0, 127],
  pitch_keycenter: [0, 127],
  lovel: [0, 127],
  hivel: [0, 127],
  volume: [-144, 6],
  pan: [-100, 100],
  loop_mode: ['no_loop', 'one_shot'],
  ampeg_release: [0, 100],
  group: [0, 4294967296],
  off_by: [0, 4294967296],
  off_mode: ['fast', 'normal'],
} as const;

export const HIGHEST_VOLUME_DB = OPCODES.volume[1];

export type Opcodes = { readonly [O in keyof typeof OPCODES]?: number | string };

/** One playable sound of an instrument. */
export interface SfzRegion {
  /** Path from the SFZ file's folder. */
  readonly sample: string;
  readonly label: string;
  readonly opcodes: Opcodes;
}

/**
 * An SFZ version 1 file, one region a sound. Velocity follows the format's default curve, the square, which this
 * project plays too. SFZ does not define the level of a centred pan. Throws `out-of-range` for values the format does
 * not allow.
 */
export function writeSfz(title: string, regions: readonly SfzRegion[]): string {
  const lines = [`// ${oneLine(title)}`, '<group>', 'amp_veltrack=100', ''];
  for (const { sample, label, opcodes } of regions) {
    lines.push('<region>', `// ${oneLine(label)}`, `sample=${sample}`);
    for (const [name, value] of Object.entries(opcodes)) lines.push(`${name}=${said(name as keyof Opcodes, value)}`);
    lines.push('');
  }
  return lines.join('\n');
}

function said(name: keyof Opcodes, value: number | string): string {
  const allowed: readonly (number | string)[] = OPCODES[name];
  const [low, high] = allowed;
  const right =
    typeof value === 'number' && typeof low === 'number' && typeof high === 'number'
      ? value >= low && value <= high
      : allowed.includes(value);
  if (!right) throw new UndercroftError('out-of-range', `SFZ knows no ${name} of ${value}.`, name);
  return typeof value === 'number' ? String(Math.round(value * 1000) / 1000) : value;
}
