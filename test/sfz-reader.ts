import { existsSync } from 'node:fs';
import { join } from 'node:path';

export interface ReadRegion {
  readonly sample: string;
  readonly key: number;
  readonly [opcode: string]: string | number;
}

/** What the specification of version 1 lets opcodes be (rgc:audio, "SFZ format"): limits of numbers, or words. */
const ALLOWED: Readonly<Record<string, readonly [number, number] | readonly string[]>> = {
  key: [0, 127],
  pitch_keycenter: [0, 127],
  volume: [-144, 6],
  pan: [-100, 100],
  amp_veltrack: [-100, 100],
  ampeg_release: [0, 100],
  group: [0, 4294967296],
  off_by: [0, 4294967296],
  off_mode: ['fast', 'normal'],
  loop_mode: ['no_loop', 'one_shot', 'loop_continuous', 'loop_sustain'],
};

function isAllowed(opcode: string, value: string | number): boolean {
  const allowed = ALLOWED[opcode];
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
    for (const match of body.matchAll(/([a-z_]+)=(.*?)(?=\s+[a-z_]+=|\n|$)/g)) {
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
