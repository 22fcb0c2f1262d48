import { readFileSync, writeFileSync } from 'node:fs';
import { dirname, resolve } from 'node:path';
import { CommanderError } from 'commander';
import { z } from 'zod';
import type { SampleEncoding } from '@/core/format/pcm';
import { writeWav } from '@/core/format/wav';
import { HIT_INITIAL } from '@/core/hit/initial';
import { renderHit } from '@/core/hit/render';
import { cut, frameCount } from '@/core/signal/audio';
import { stepsOf } from '@/core/treatment/chain';
import { Chain } from '@/core/treatment/chain-schema';
import { amplified } from '@/core/treatment/processor';
import { loadFile } from './files';

interface RenderOptions {
  readonly out: string;
  readonly steps?: string;
  readonly encoding: SampleEncoding;
}

/** A hit in a file: where it lies in a sound file, and what is done to it. */
const HitFile = z.object({
  file: z.string(),
  startFrame: z.number().int().min(0).default(0),
  endFrame: z.number().int().min(1).optional(),
  steps: Chain.optional(),
});

/** Renders a sound file, or a stretch of one with its steps, as the application renders a hit. */
export async function runRender(source: string, { out, steps, encoding }: RenderOptions): Promise<void> {
  const isHit = source.toLowerCase().endsWith('.json');
  const hit = isHit ? parsed(HitFile, source) : { file: source, startFrame: 0 };
  const chain = steps ? parsed(Chain, steps) : ('steps' in hit && hit.steps) || [];
  const { audio } = await loadFile(isHit ? resolve(dirname(source), hit.file) : source);
  const frames = frameCount(audio);
  const endFrame = Math.min(('endFrame' in hit ? hit.endFrame : undefined) ?? frames, frames);
  const { startFrame } = hit;
  if (startFrame >= endFrame)
    throw new Error(`${source}: the hit lies past the end of the file, which has ${frames} frames.`);
  const treated = {
    ...HIT_INITIAL,
    ...{ id: 'hit', name: 'hit', recordingId: 'file', sliceId: null, startFrame, endFrame },
    steps: stepsOf('hit', chain, () => 'step'),
  };
  const rendered = renderHit(treated as never, () => cut(audio, startFrame, endFrame));
  writeFileSync(out, writeWav(amplified(rendered.audio, rendered.gain), encoding));
}

function parsed<T>(schema: z.ZodType<T>, path: string): T {
  let value: unknown;
  try {
    value = JSON.parse(readFileSync(path, 'utf8'));
  } catch (error) {
    throw new Error(`${path} cannot be read as JSON: ${(error as Error).message}`);
  }
  const checked = schema.safeParse(value);
  if (checked.success) return checked.data;
  const words = checked.error.issues.map(
    ({ path: at, message }) => `${at.length > 0 ? `${at.join('.')}: ` : ''}${message}`,
  );
  throw new CommanderError(2, 'undercroft.steps', `${path}: ${words.join(' ')}`);
}
