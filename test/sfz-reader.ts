import { existsSync } from 'node:fs';
import { join } from 'node:path';

export interface ReadRegion {
  readonly sample: string;
  readonly key: number;
  readonly [opcode: string]: string | number;
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
      if (!(region.key >= 0 && region.key <= 127)) faults.push(`${region.sample} has no key`);
      regions.push(region);
    } else faults.push(`<${header}> is not known`);
  }
  return { regions, faults };
}
