import { existsSync } from 'node:fs';
import { join } from 'node:path';

export interface ReadRegion {
  readonly sample: string;
  readonly key: number;
  readonly [opcode: string]: string | number;
}

const SECONDS = [0, 100] as const;
const PERCENT = [0, 100] as const;
const HERTZ = [0, 20] as const;

/**
 * What opcodes may be: limits of numbers, or words. Of version 1 by its specification (rgc:audio, "SFZ format"), of
 * version 2 from memory.
 */
const ALLOWED: Readonly<Record<string, readonly [number, number] | readonly string[]>> = {
  key: [0, 127],
  pitch_keycenter: [0, 127],
  lovel: [1, 127],
  hivel: [1, 127],
  lorand: [0, 1],
  hirand: [0, 1],
  seq_length: [1, 100],
  seq_position: [1, 100],
  volume: [-144, 6],
  pan: [-100, 100],
  amp_veltrack: [-100, 100],
  amp_random: [0, 24],
  pitch_random: [0, 9600],
  pitch_veltrack: [-9600, 9600],
  fil_type: ['lpf_1p', 'hpf_1p', 'lpf_2p', 'hpf_2p', 'bpf_2p', 'brf_2p', 'lpf_4p', 'hpf_4p'],
  fil_veltrack: [-9600, 9600],
  cutoff: [0, 24_000],
  cutoff_chanaft: [-9600, 9600],
  resonance: [0, 40],
  ...Object.fromEntries(
    ['ampeg', 'fileg', 'pitcheg'].flatMap((of) => [
      ...['attack', 'hold', 'decay', 'release'].map((stage) => [`${of}_${stage}`, SECONDS]),
      [`${of}_sustain`, PERCENT],
    ]),
  ),
  fileg_depth: [-12_000, 12_000],
  pitcheg_depth: [-12_000, 12_000],
  amplfo_freq: HERTZ,
  amplfo_depth: [-10, 10],
  pitchlfo_freq: HERTZ,
  pitchlfo_depth: [-1200, 1200],
  fillfo_freq: HERTZ,
  fillfo_depth: [-1200, 1200],
  group: [0, 4294967296],
  off_by: [0, 4294967296],
  off_mode: ['fast', 'normal', 'time'],
  off_time: SECONDS,
  note_polyphony: [1, 1000],
  loop_mode: ['no_loop', 'one_shot', 'loop_continuous', 'loop_sustain'],
  loop_start: [0, 4294967296],
  loop_end: [0, 4294967296],
  ...Object.fromEntries(
    [1, 2].flatMap((n) => [
      [`lfo${n}_freq`, HERTZ],
      [`lfo${n}_wave`, [0, 7]],
      [`lfo${n}_pitch`, [-9600, 9600]],
      [`lfo${n}_volume`, [-144, 144]],
      [`lfo${n}_cutoff`, [-9600, 9600]],
      [`lfo${n}_pan`, [-200, 200]],
    ]),
  ),
};

/** Opcodes that end in the number of a controller. */
const OF_CONTROLLERS: Readonly<Record<string, readonly [number, number]>> = {
  cutoff_cc: [-9600, 9600],
  gain_cc: [-144, 48],
};

function isAllowed(opcode: string, value: string | number): boolean {
  const controller = /^(\w+_cc)\d{1,3}$/.exec(opcode)?.[1];
  const allowed = controller ? OF_CONTROLLERS[controller] : ALLOWED[opcode];
  if (!allowed) return opcode === 'sample';
  const [low, high] = allowed;
  if (typeof low === 'number') return typeof value === 'number' && value >= low && value <= (high as number);
  return (allowed as readonly string[]).includes(String(value));
}

/**
 * A reader of SFZ for the tests, written from the format's description alone and sharing nothing with the writer:
 * headers in angle brackets, `opcode=value` pairs of which a value runs to the next opcode, `//` comments, and
 * inheritance from <control>, <global> and <group>.
 */
export function readSfz(text: string, folder: string): { regions: ReadRegion[]; faults: string[] } {
  const clean = text
    .split(/\r?\n/)
    .map((line) => line.replace(/\/\/.*$/, ''))
    .join('\n');
  const faults: string[] = [];
  const regions: ReadRegion[] = [];
  let control: Record<string, string | number> = {};
  let group: Record<string, string | number> = {};
  for (const part of clean.split(/(?=<[a-z]+>)/)) {
    const header = /^<([a-z]+)>/.exec(part)?.[1];
    if (!header) continue;
    const body = part.slice(header.length + 2);
    const opcodes: Record<string, string | number> = {};
    for (const match of body.matchAll(/([a-z_\d]+)=(.*?)(?=\s+[a-z_\d]+=|\n|$)/g)) {
      const [, name, value] = match as unknown as [string, string, string];
      opcodes[name] = /^-?\d+(\.\d+)?$/.test(value.trim()) ? Number(value) : value.trim();
    }
    if (header === 'control') control = opcodes;
    else if (header === 'group') group = opcodes;
    else if (header === 'region') {
      const region = { ...group, ...opcodes } as ReadRegion;
      const path = join(folder, String(control.default_path ?? ''), String(region.sample));
      if (!existsSync(path)) faults.push(`${region.sample} is not there`);
      if (region.key === undefined) faults.push(`${region.sample} has no key`);
      for (const [opcode, value] of Object.entries(region))
        if (!isAllowed(opcode, value)) faults.push(`${region.sample}: ${opcode}=${value} is not allowed`);
      regions.push(region);
    } else faults.push(`<${header}> is not known`);
  }
  return { regions, faults };
}
