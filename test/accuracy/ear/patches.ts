import { execFileSync } from 'node:child_process';
import { readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { readWav } from '../../../src/core/format/wav';
import { toMono } from '../../../src/core/signal/audio';
import { RATE, writeNotes } from '../fluid';
import type { Note } from '../patterns';

const CONFIGURATION = 'dir /usr/share/midi/freepats\nsource /etc/timidity/freepats.cfg\n';

/** Renders percussion notes by timidity with the patch set of Debian's freepats, reverb and chorus off, to one channel. */
export function renderPatches(notes: readonly Note[], bpm: number, seconds: number, folder: string): Float32Array {
  const [midi, wav, configuration] = ['patches.mid', 'patches.wav', 'patches.cfg'].map((name) => join(folder, name));
  writeNotes(midi as string, notes, bpm, seconds);
  writeFileSync(configuration as string, CONFIGURATION);
  const quiet = ['-EFreverb=d', '-EFchorus=d', '-EFdelay=d', '-EFns=0'];
  execFileSync(
    'timidity',
    [
      '-c',
      configuration as string,
      midi as string,
      '-Ow1sl',
      '-s',
      String(RATE),
      ...quiet,
      '-A',
      '60',
      '-o',
      wav as string,
    ],
    { stdio: 'ignore' },
  );
  const mono = toMono(readWav(readFileSync(wav as string)).audio);
  const out = new Float32Array(Math.round(seconds * RATE));
  out.set(mono.subarray(0, out.length));
  return out;
}
