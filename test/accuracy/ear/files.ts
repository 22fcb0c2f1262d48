import { execFileSync } from 'node:child_process';
import { existsSync, readdirSync } from 'node:fs';
import { basename, join } from 'node:path';
import type { ToldFamily } from '../../../src/core/describe/family';
import { RATE } from '../fluid';
import type { Note } from '../patterns';

/** Recorded drums as files, of Debian's sonic-pi-samples (CC0), and of the examples in chuck-data. */
const FOLDER = '/usr/share/sonic-pi/samples';
const EXAMPLES = '/usr/share/doc/chuck-data/examples';

/** Families by the names of the files; those that fit none are no drum, or none of a family. */
const FAMILIES: readonly (readonly [pattern: RegExp, family: ToldFamily])[] = [
  [/^bd_|^drum_(bass|heavy_kick)|^elec_.*kick|^kick/, 'kick'],
  [/^sn_|^drum_snare|^elec_.*snare|^snare/, 'snare'],
  [/^drum_tom|^elec_fuzz_tom/, 'tom'],
  [/^clap/, 'clap'],
  [/^drum_cymbal_(closed|pedal)|^hihat_01|^hihat_02|^hihat\./, 'closed hat'],
  [/^drum_cymbal_open|^hihat_04|^hihat-open/, 'open hat'],
  [/^drum_(cymbal_(hard|soft)|splash)|^elec_cymbal/, 'cymbal'],
  [/^tabla_|^cowbell|^drum_cowbell|^elec_(wood|bell|triangle|bong|ping|tick)|^perc_bell/, 'percussion'],
];

export interface NamedShot {
  readonly collection: 'takes' | 'examples';
  readonly family: ToldFamily;
  readonly samples: Float32Array;
}

/** Every file whose name tells its family, one channel at `RATE`. */
export function namedShots(): NamedShot[] {
  const paths = [
    ...readdirSync(FOLDER).map((name) => join(FOLDER, name)),
    ...['data', 'book/digital-artists/audio', 'book/digital-artists/chapter9/DrumMachine/audio'].flatMap((folder) =>
      readdirSync(join(EXAMPLES, folder)).map((name) => join(EXAMPLES, folder, name)),
    ),
  ];
  const known = new Set<string>();
  return paths.flatMap((path) => {
    const name = basename(path);
    const family = FAMILIES.find(([pattern]) => pattern.test(name))?.[1];
    if (!family || known.has(name)) return [];
    known.add(name);
    const collection = path.startsWith(FOLDER) ? 'takes' : 'examples';
    return [{ collection, family, samples: decoded(path) }];
  });
}

function decoded(path: string): Float32Array {
  if (!existsSync(path)) throw new Error(`${path} is missing: install the Debian packages named in docs/listening.md.`);
  const raw = execFileSync(
    'sox',
    [path, '-r', String(RATE), '-c', '1', '-e', 'floating-point', '-b', '32', '-t', 'raw', '-'],
    {
      maxBuffer: 1 << 28,
    },
  );
  return new Float32Array(Uint8Array.from(raw).buffer);
}

/** A kit of real drums, most struck softly and hard, by the keys of the GM percussion key map. */
const KIT: Readonly<Record<number, readonly string[]>> = {
  35: ['drum_heavy_kick'],
  36: ['drum_bass_soft', 'drum_bass_hard'],
  38: ['drum_snare_soft', 'drum_snare_hard'],
  40: ['sn_generic'],
  41: ['drum_tom_lo_soft', 'drum_tom_lo_hard'],
  42: ['drum_cymbal_closed'],
  44: ['drum_cymbal_pedal'],
  45: ['drum_tom_mid_soft', 'drum_tom_mid_hard'],
  46: ['drum_cymbal_open'],
  48: ['drum_tom_hi_soft', 'drum_tom_hi_hard'],
  49: ['drum_splash_soft', 'drum_splash_hard'],
  50: ['elec_fuzz_tom'],
  51: ['drum_cymbal_soft', 'drum_cymbal_hard'],
  56: ['drum_cowbell'],
};
const HATS = [42, 44, 46];
/** Strokes from this velocity on are the hard ones. */
const HARD = 80;
const CHOKE_S = 0.02;

/** Renders percussion notes with the kit of files to one channel; hats silence each other, every drum its own last stroke where it is struck again. */
export function renderFiles(notes: readonly Note[], bpm: number, seconds: number): Float32Array {
  const out = new Float32Array(Math.round(seconds * RATE));
  const sounds = new Map<string, Float32Array>();
  const frameOf = (note: Note) => Math.round((note.tick / 480) * (60 / bpm) * RATE);
  for (const [i, note] of notes.entries()) {
    const names = KIT[note.key];
    if (!names) continue;
    const name = (note.velocity >= HARD ? names.at(-1) : names[0]) as string;
    const sound = sounds.get(name) ?? decoded(join(FOLDER, `${name}.flac`));
    sounds.set(name, sound);
    const at = frameOf(note);
    const next = notes.find((n, k) => k > i && HATS.includes(n.key) && HATS.includes(note.key));
    const until = next ? frameOf(next) - at : sound.length;
    const gain = (note.velocity / 127) ** 1.5 * 0.5;
    for (let k = 0; k < sound.length && at + k < out.length; k++) {
      const fade = Math.max(0, Math.min(1, 1 - (k - until) / (CHOKE_S * RATE)));
      if (fade === 0) break;
      out[at + k] = (out[at + k] as number) + gain * fade * (sound[k] as number);
    }
  }
  return out;
}
