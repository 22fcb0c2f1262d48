import { createHash } from 'node:crypto';
import { existsSync, mkdirSync, readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import type { ToldFamily } from '../../../src/core/describe/family';
import { RATE, renderNotes } from '../fluid';
import { DRUMS, type Note } from '../patterns';
import { namedShots, renderFiles } from './files';
import { renderPatches } from './patches';

/** A set of percussion sounds that is rendered as one: SoundFonts with a kit of theirs, or a patch set. */
export interface Kit {
  readonly name: string;
  /** Sets that share samples are of one lineage: what is tried on one is learnt without the others. */
  readonly lineage: string;
  /** Paths of SoundFonts; none for the patch set and the files. */
  readonly fonts: readonly string[];
  readonly program: number;
  /** Keys whose sound is not what the key map calls them. */
  readonly without?: readonly number[] | undefined;
}

export interface OneShot {
  readonly kit: string;
  readonly lineage: string;
  readonly key: number;
  readonly velocity: number;
  readonly family: ToldFamily;
  readonly samples: Float32Array;
}

const FOLDER = '/usr/share/sounds/sf2';
const TIM = [`${FOLDER}/TimGM6mb.sf2`];
const BANK = [`${FOLDER}/sf_GMbank.sf2`];
const AIR = [`${FOLDER}/A320U.sf2`];
const GENERAL = ['/usr/share/minuet/soundfonts/GeneralUser-v1.47.sf2'];
const FLUID = [`${FOLDER}/FluidR3_GM.sf2`];
/** Programs of the kits that follow the GM percussion key map (from memory: the sets that most fonts have beside the first). */
const PROGRAMS = [0, 8, 16, 24, 25, 32];

const kits = (
  name: string,
  fonts: readonly string[],
  programs: readonly number[],
  { lineage = name, without }: Partial<Pick<Kit, 'lineage' | 'without'>> = {},
): Kit[] => programs.map((program) => ({ name: `${name} ${program}`, lineage, fonts, program, without }));

/** Keys on which a kit has, cut otherwise, a recording that a report kit has too (`npm run ear` compares the sounds of all). */
const ALSO_REPORTED = [58, 63];
/**
 * Percussion to learn from: Debian packages timgm6mb-soundfont, csound-soundfont, denemo-data, minuet-data, opl3-soundfont, freepats (by timidity),
 * sonic-pi-samples, and the font inside the npm package @coderline/alphatab.
 */
export const TUNING_KITS: readonly Kit[] = [
  ...kits('tim', TIM, PROGRAMS),
  ...kits('bank', BANK, PROGRAMS, { without: ALSO_REPORTED }),
  ...kits('air', AIR, PROGRAMS, { lineage: 'bank', without: ALSO_REPORTED }),
  ...kits('general', GENERAL, [1, 26, ...PROGRAMS], { without: ALSO_REPORTED }),
  { name: 'opl', lineage: 'opl', fonts: [`${FOLDER}/OPL-3_FM_128M.sf2`], program: 0 },
  {
    name: 'sonivox',
    lineage: 'sonivox',
    fonts: ['node_modules/@coderline/alphatab/dist/soundfont/sonivox.sf2'],
    program: 0,
  },
  { name: 'patches', lineage: 'patches', fonts: [], program: 0 },
  { name: 'takes', lineage: 'takes', fonts: [], program: 0 },
];
/** Keys on which the drum fonts have hats and cymbals of their own, by the names of their samples, and not the key map's sounds. */
const OWN_KEYS = [48, 50, 52, 58, 60];
/** Percussion to report on: Debian packages fluid-soundfont-gm, avldrums.lv2-soundfont. */
export const REPORT_KITS: readonly Kit[] = [
  ...kits('fluid', FLUID, PROGRAMS),
  {
    name: 'pearl',
    lineage: 'pearl',
    fonts: [...FLUID, `${FOLDER}/Black_Pearl_4_LV2.sf2`],
    program: 0,
    without: OWN_KEYS,
  },
  {
    name: 'zeppelin',
    lineage: 'zeppelin',
    fonts: [...FLUID, `${FOLDER}/Red_Zeppelin_4_LV2.sf2`],
    program: 0,
    without: OWN_KEYS,
  },
];

/** Families of the GM Level 1 percussion key map (MIDI Association RP-003). */
export function familyOfKey(key: number): ToldFamily {
  if (key === 35 || key === 36) return 'kick';
  if (key === 37) return 'rim';
  if (key === 38 || key === 40) return 'snare';
  if (key === 39) return 'clap';
  if (key === 42 || key === 44) return 'closed hat';
  if (key === 46) return 'open hat';
  if ([41, 43, 45, 47, 48, 50].includes(key)) return 'tom';
  if ([49, 51, 52, 53, 55, 57, 59].includes(key)) return 'cymbal';
  return 'percussion';
}

export const KEYS = Array.from({ length: 47 }, (_, i) => 35 + i);
const SPACE_S = 3;

/**
 * Every sound of some kits at some velocities, each once, though several kits share it: trimmed to begin at -40 dB of its peak, less
 * half a millisecond.
 */
export function oneShots(kits: readonly Kit[], velocities: readonly number[], folder: string): OneShot[] {
  const known = new Set<string>();
  return kits.flatMap((kit) => shotsOf(kit, velocities, folder, known));
}

function shotsOf(kit: Kit, velocities: readonly number[], folder: string, known: Set<string> | null): OneShot[] {
  const found: OneShot[] = [];
  for (const velocity of velocities) {
    const notes: Note[] = KEYS.map((key, i) => ({
      tick: i * SPACE_S * 960 + 96,
      key,
      velocity,
      channel: DRUMS,
      lengthTicks: 960,
    }));
    const samples = cached(folder, `${kit.name} ${velocity}`, () =>
      renderKit(kit, notes, KEYS.length * SPACE_S + 1, folder),
    );
    for (const [i, key] of KEYS.entries()) {
      const sound = trimmed(samples.subarray(i * SPACE_S * RATE, (i + 1) * SPACE_S * RATE));
      if (!sound || kit.without?.includes(key)) continue;
      if (known) {
        const hash = createHash('sha1').update(Float32Array.from(sound)).digest('hex');
        if (known.has(hash)) continue;
        known.add(hash);
      }
      found.push({ kit: kit.name, lineage: kit.lineage, key, velocity, family: familyOfKey(key), samples: sound });
    }
  }
  return found;
}

/** Velocities at which kits are rendered to be learnt from. */
export const LAYERS: readonly number[] = [45, 85, 120];

export interface Layer {
  readonly velocity: number;
  readonly samples: Float32Array;
}

/** The sounds of a kit by key and velocity, each from the layer that is nearest. */
export function kitSounds(kit: Kit, folder: string): (key: number, velocity: number) => Layer | undefined {
  const layers = LAYERS.map((velocity) => {
    const shots = shotsOf(kit, [velocity], folder, null);
    return new Map(shots.map(({ key, samples }) => [key, { velocity, samples }]));
  });
  return (key, velocity) => {
    const off = (i: number) => Math.abs((LAYERS[i] as number) - velocity);
    return layers
      .map((_, i) => i)
      .sort((a, b) => off(a) - off(b))
      .map((i) => layers[i]?.get(key))
      .find((layer) => layer !== undefined);
  };
}

/** Renders notes at 120 to the minute with the drums of a kit. */
export function renderKit(kit: Kit, notes: readonly Note[], seconds: number, folder: string, bpm = 120): Float32Array {
  if (kit.name === 'patches') return renderPatches(notes, bpm, seconds, folder);
  if (kit.name === 'takes') return renderFiles(notes, bpm, seconds);
  return renderNotes(kit.fonts, notes, bpm, seconds, folder, [], [[DRUMS, kit.program]]);
}

/** Sounds that are files with names of their own, trimmed as those of kits are. */
export function namedSounds(): OneShot[] {
  return namedShots().flatMap(({ collection, family, samples }) => {
    const sound = trimmed(samples);
    return sound ? [{ kit: collection, lineage: collection, key: 0, velocity: 0, family, samples: sound }] : [];
  });
}

/** From -40 dB of the peak, less half a millisecond, to -80 dB; null for silence. */
export function trimmed(samples: Float32Array): Float32Array | null {
  const peak = samples.reduce((most, x) => Math.max(most, Math.abs(x)), 0);
  if (peak < 1e-3) return null;
  const start = samples.findIndex((x) => Math.abs(x) > peak * 0.01);
  const end = samples.findLastIndex((x) => Math.abs(x) > peak * 1e-4);
  return samples.slice(Math.max(0, start - Math.round(0.0005 * RATE)), end + 1);
}

/** Rendered once, since rendering takes most of the time. */
export function cached(folder: string, name: string, make: () => Float32Array): Float32Array {
  mkdirSync(folder, { recursive: true });
  const path = join(folder, `${name.replaceAll(' ', '-')}.f32`);
  if (existsSync(path)) {
    const bytes = readFileSync(path);
    return new Float32Array(bytes.buffer.slice(bytes.byteOffset, bytes.byteOffset + bytes.byteLength));
  }
  const samples = make();
  writeFileSync(path, new Uint8Array(samples.buffer, samples.byteOffset, samples.byteLength));
  return samples;
}
