import { writeFileSync } from 'node:fs';
import { playDrummer } from '@/core/drummer/drummer';
import { type DrummerRhythm, RHYTHMS } from '@/core/drummer/rhythms';
import { writeWav } from '@/core/format/wav';
import { rounded } from './figures';

interface DrummerOptions {
  readonly rhythm: number;
  readonly speed: number;
  readonly laps: number;
  readonly seed: number;
  readonly rate: number;
  readonly out: string;
  readonly json: boolean;
}

/** `undercroft drummer`: writes what the fairground drummer plays as a WAV file, and tells its strokes. */
export function runDrummer({ rhythm, speed, laps, seed, rate, out, json }: DrummerOptions): void {
  const of = RHYTHMS[rhythm - 1] as DrummerRhythm;
  const { samples, strokes } = playDrummer(of, speed, laps, seed, rate);
  writeFileSync(out, writeWav({ sampleRate: rate, channels: [samples] }, 's24'));
  const seconds = samples.length / rate;
  if (json) {
    const told = strokes.map(({ drum, family, note, frame, velocity }) => ({
      ...{ seconds: rounded(frame / rate), drum, family, note, velocity },
    }));
    process.stdout.write(
      `${JSON.stringify({ file: out, rhythm: of.name, seconds: rounded(seconds), strokes: told })}\n`,
    );
  } else process.stdout.write(`${out}\t${of.name}, ${strokes.length} strokes in ${seconds.toFixed(1)} s\n`);
}
