import { closeSync, existsSync, mkdirSync, mkdtempSync, openSync, readFileSync, rmSync, writeSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { encodeFrames } from '@/core/format/pcm';
import { wavHeader } from '@/core/format/wav';
import { type PlayableKit, perform } from '@/core/kit/perform';
import { readMidiFile } from '@/core/midi/file';
import { freeName } from '@/core/naming/names';
import { safeFileName } from '@/core/naming/safe-names';
import { peakOf } from '@/core/signal/audio';
import { toDb } from '@/core/signal/units';
import { openWorkspace } from '@/server/db/open';
import { kitIdOf, playableKit } from '@/server/exporting/playable';
import { importBundle } from '@/server/importing/bundle';
import { importBytes } from '@/server/importing/intake';
import { plainImport } from '@/server/importing/options';
import { workspacePath } from '@/server/workspace';

interface PlayOptions {
  readonly midi: string;
  readonly out: string;
  readonly stems?: string;
  readonly rate: number;
  readonly encoding: 's16' | 's24' | 'f32';
  readonly workspace?: string;
  readonly json: boolean;
}

function workspaceKit(kit: string, { workspace, rate }: PlayOptions): PlayableKit {
  const path = workspace ?? workspacePath();
  if (!existsSync(path)) throw new Error(`There is no workspace at ${path}.`);
  const db = openWorkspace(path, { migrate: false });
  try {
    return playableKit(db, kitIdOf(db, kit), rate);
  } finally {
    db.close();
  }
}

/** A bundle's kit, opened in a workspace of its own that is thrown away. */
async function bundleKit(path: string, rate: number): Promise<PlayableKit> {
  const folder = mkdtempSync(join(tmpdir(), 'undercroft-'));
  try {
    const db = openWorkspace(join(folder, 'workspace.db'));
    try {
      const take = (name: string, bytes: Uint8Array) => importBytes(db, plainImport(name), bytes);
      const { kitId } = await importBundle(db, take, readFileSync(path), { browser: 'command-line', tab: '' });
      return playableKit(db, kitId, rate);
    } finally {
      db.close();
    }
  } finally {
    rmSync(folder, { recursive: true, force: true });
  }
}

type Blocks = Generator<[Float32Array, Float32Array], boolean>;

/** `undercroft play KIT`: plays a kit by a MIDI file, with the frames that the page would give. */
export async function runPlay(kit: string, options: PlayOptions): Promise<void> {
  const midi = readMidiFile(readFileSync(options.midi));
  for (const fault of midi.faults) process.stderr.write(`${options.midi}: ${fault}\n`);
  const isBundle = /\.zip$/i.test(kit) && existsSync(kit);
  const playable = isBundle ? await bundleKit(kit, options.rate) : workspaceKit(kit, options);
  const whole = writeBlocks(options.out, perform(playable, midi.messages), options);
  if (!whole.isOver)
    process.stderr.write(
      'A loop goes on after the last note: it is cut off a minute later. Strike its pad again to end it.\n',
    );
  const stems: string[] = [];
  if (options.stems) {
    mkdirSync(options.stems, { recursive: true });
    const taken = new Set<string>();
    for (const { pad } of playable.pads) {
      const name = freeName(safeFileName(pad.name), taken);
      taken.add(name);
      const file = join(options.stems, `${name}.wav`);
      const { peak } = writeBlocks(file, perform(playable, midi.messages, { only: pad.position }), options);
      if (peak > 0) stems.push(file);
    }
  }
  const strokes = midi.messages.filter(({ message }) => message.kind === 'note-on').length;
  const told = { out: options.out, seconds: whole.frames / options.rate, strokes, peakDb: toDb(whole.peak), stems };
  if (options.json)
    process.stdout.write(`${JSON.stringify({ ...told, peakDb: whole.peak > 0 ? told.peakDb : null })}\n`);
  else
    process.stdout.write(
      `${strokes} notes, ${told.seconds.toFixed(2)} s, peak ${whole.peak > 0 ? `${told.peakDb.toFixed(1)} dBFS` : 'none: nothing sounds on these notes'}.\n`,
    );
}

interface Written {
  readonly frames: number;
  /** Linear. */
  readonly peak: number;
  /** It has died away; false where it was cut off. */
  readonly isOver: boolean;
}

/** Writes blocks as a stereo WAV file while they are made. */
function writeBlocks(path: string, blocks: Blocks, { rate, encoding }: PlayOptions): Written {
  const format = { encoding, sampleRate: rate, channelCount: 2 };
  const file = openSync(path, 'w');
  let frames = 0;
  let peak = 0;
  let isOver = false;
  try {
    let at = writeAt(file, wavHeader(format, 0), 0);
    for (let next = blocks.next(); ; next = blocks.next()) {
      if (next.done) {
        isOver = next.value;
        break;
      }
      at += writeAt(file, encodeFrames(encoding, next.value), at);
      frames += next.value[0].length;
      peak = Math.max(peak, peakOf(next.value));
    }
    // The length is known now.
    writeAt(file, wavHeader(format, frames), 0);
  } finally {
    closeSync(file);
  }
  return { frames, peak, isOver };
}

function writeAt(file: number, bytes: Uint8Array, position: number): number {
  return writeSync(file, bytes, 0, bytes.length, position);
}
