import { UndercroftError } from '../errors';
import { oneLine } from '../naming/safe-names';

const TIME = [0, 100] as const;
const SHARE = [0, 100] as const;
const DEEP = [-12_000, 12_000] as const;
const CENTS = [-9600, 9600] as const;
const RATE = [0, 20] as const;

/**
 * The opcodes of version 1 that are written, with their ranges (rgc:audio, "SFZ format" version 1: sample playback,
 * instrument settings, performance parameters).
 */
const VERSION_1 = {
  key: [0, 127],
  pitch_keycenter: [0, 127],
  lovel: [0, 127],
  hivel: [0, 127],
  lorand: [0, 1],
  hirand: [0, 1],
  seq_length: [1, 100],
  seq_position: [1, 100],
  volume: [-144, 6],
  pan: [-100, 100],
  amp_veltrack: [-100, 100],
  amp_random: [0, 24],
  loop_mode: ['no_loop', 'one_shot', 'loop_continuous', 'loop_sustain'],
  loop_start: [0, 4294967296],
  loop_end: [0, 4294967296],
  group: [0, 4294967296],
  off_by: [0, 4294967296],
  pitch_random: [0, 9600],
  pitch_veltrack: CENTS,
  fil_type: ['lpf_2p', 'hpf_2p', 'bpf_2p', 'brf_2p', 'lpf_4p', 'hpf_4p'],
  cutoff: [0, 96_000],
  resonance: [0, 40],
  fil_veltrack: CENTS,
  cutoff_chanaft: CENTS,
  ampeg_attack: TIME,
  ampeg_hold: TIME,
  ampeg_decay: TIME,
  ampeg_sustain: SHARE,
  ampeg_release: TIME,
  fileg_attack: TIME,
  fileg_hold: TIME,
  fileg_decay: TIME,
  fileg_sustain: SHARE,
  fileg_release: TIME,
  fileg_depth: DEEP,
  pitcheg_attack: TIME,
  pitcheg_hold: TIME,
  pitcheg_decay: TIME,
  pitcheg_sustain: SHARE,
  pitcheg_release: TIME,
  pitcheg_depth: DEEP,
  amplfo_freq: RATE,
  amplfo_depth: [-10, 10],
  pitchlfo_freq: RATE,
  pitchlfo_depth: [-1200, 1200],
  fillfo_freq: RATE,
  fillfo_depth: [-1200, 1200],
} as const;

/** Opcodes that players know since version 2 (four-pole filters and off_mode=time are values of it as well). */
const VERSION_2 = {
  off_mode: ['fast', 'normal', 'time'],
  off_time: TIME,
  note_polyphony: [1, 64],
  lfo1_freq: RATE,
  lfo1_wave: [0, 7],
  lfo1_pitch: CENTS,
  lfo1_volume: [-144, 144],
  lfo1_cutoff: DEEP,
  lfo1_pan: [-200, 200],
  lfo2_freq: RATE,
  lfo2_wave: [0, 7],
  lfo2_pitch: CENTS,
  lfo2_volume: [-144, 144],
  lfo2_cutoff: DEEP,
  lfo2_pan: [-200, 200],
} as const;

/** Opcodes of controllers end in the controller's number. */
const OF_CONTROLLERS = { cutoff_cc: CENTS, gain_cc: [-144, 48] } as const;

const OPCODES = { ...VERSION_1, ...VERSION_2 } as const;
type OpcodeName = keyof typeof OPCODES | `${keyof typeof OF_CONTROLLERS}${number}`;

export const HIGHEST_VOLUME_DB = OPCODES.volume[1];

export type Opcodes = { readonly [O in OpcodeName]?: number | string };

/** Opcodes and values of an instrument that players know since version 2 only. */
export function ofVersion2(regions: readonly SfzRegion[]): string[] {
  const used = new Set<string>();
  for (const { opcodes } of regions)
    for (const [name, value] of Object.entries(opcodes)) {
      if (name in VERSION_2 && !(name === 'off_mode' && value !== 'time')) used.add(name);
      if (name === 'fil_type' && String(value).endsWith('4p')) used.add(`fil_type=${value}`);
    }
  return [...used].sort();
}

/** One playable sound of an instrument. */
export interface SfzRegion {
  /** Path from the SFZ file's folder. */
  readonly sample: string;
  readonly label: string;
  readonly opcodes: Opcodes;
}

/**
 * An SFZ file, one region a sound. Opcodes are of version 1 where that has them; a comment names those of version 2.
 * Velocity follows the format's default curve, which this project plays too. SFZ does not define the level of a centred
 * pan. Throws `out-of-range` for values the format does not allow.
 */
export function writeSfz(title: string, regions: readonly SfzRegion[]): string {
  const later = ofVersion2(regions);
  const note = later.length > 0 ? [`// of version 2: ${later.join(', ')}`] : [];
  const lines = [`// ${oneLine(title)}`, ...note, ''];
  for (const { sample, label, opcodes } of regions) {
    lines.push('<region>', `// ${oneLine(label)}`, `sample=${sample}`);
    for (const [name, value] of Object.entries(opcodes))
      lines.push(`${name}=${said(name as OpcodeName, value as number | string)}`);
    lines.push('');
  }
  return lines.join('\n');
}

function allowedFor(name: OpcodeName): readonly (number | string)[] {
  const controller = /^([a-z_]+cc)\d+$/.exec(name)?.[1];
  return controller ? OF_CONTROLLERS[controller as keyof typeof OF_CONTROLLERS] : OPCODES[name as keyof typeof OPCODES];
}

function said(name: OpcodeName, value: number | string): string {
  const allowed = allowedFor(name);
  const [low, high] = allowed;
  const right =
    typeof value === 'number' && typeof low === 'number' && typeof high === 'number'
      ? value >= low && value <= high
      : allowed.includes(value);
  if (!right) throw new UndercroftError('out-of-range', `SFZ knows no ${name} of ${value}.`, name);
  return typeof value === 'number' ? String(Number(value.toFixed(6))) : value;
}
