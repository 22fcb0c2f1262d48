import { readFileSync, writeFileSync } from 'node:fs';
import { z } from 'zod';
import { writeWav } from '@/core/format/wav';
import { shapeOf } from '@/core/parameter/schema';
import { filled } from '@/core/parameter/values';
import { frameCount, peakOf } from '@/core/signal/audio';
import { toDb } from '@/core/signal/units';
import { VOICE_PARAMETERS } from '@/core/voice/parameters';
import { renderVoice } from '@/core/voice/render';

interface VoiceOptions {
  readonly velocity: number;
  readonly seed: number;
  readonly rate: number;
  readonly out: string;
}

const Settings = z.object(shapeOf(VOICE_PARAMETERS)).partial().strict();

/** `undercroft voice SETTINGS.json`: writes a stroke of the struck voice as a WAV file. */
export function runVoice(file: string, { velocity, seed, rate, out }: VoiceOptions): void {
  const read = Settings.safeParse(parsed(file));
  if (!read.success) {
    const [issue] = read.error.issues;
    const where = issue?.path.join('.') ?? '';
    throw new Error(
      `${file}: ${where === '' ? '' : `${where}: `}${issue?.message ?? 'no settings of a voice'}. It has any of ${Object.keys(VOICE_PARAMETERS).join(', ')}.`,
    );
  }
  const audio = renderVoice(filled(VOICE_PARAMETERS, read.data), velocity, seed, rate);
  writeFileSync(out, writeWav(audio, 's24'));
  const seconds = frameCount(audio) / rate;
  process.stdout.write(`${out}\t${seconds.toFixed(3)} s, peak ${toDb(peakOf(audio.channels)).toFixed(1)} dBFS\n`);
}

function parsed(file: string): unknown {
  const text = readFileSync(file, 'utf8');
  try {
    return JSON.parse(text);
  } catch (error) {
    throw new Error(`${file} is not JSON: ${(error as Error).message}.`);
  }
}
