import { slicesFromOnsets } from '@/core/onset/select';
import { frameCount } from '@/core/signal/audio';
import { toDb } from '@/core/signal/units';
import { eachFile, loadWithOnsets } from './files';

export async function runOnsets(
  files: string[],
  options: { sensitivity?: number; spacing?: number; json: boolean },
): Promise<void> {
  await eachFile(files, async (file) => {
    const { sensitivity, spacing } = options;
    const { audio, onsets } = await loadWithOnsets(file, { sensitivity, spacingMs: spacing });
    const frames = frameCount(audio);
    const { sampleRate } = audio;
    if (!options.json) {
      for (const onset of onsets)
        process.stdout.write(`${file}\t${(onset.frame / sampleRate).toFixed(6)} s\t${onset.strength.toFixed(3)}\n`);
      return;
    }
    const slices = slicesFromOnsets(onsets, frames).map((region, i) => ({
      ...region,
      family: null,
      familyConfidence: null,
      rootHz: null,
      isolation: null,
      group: null,
      peakDb: round(toDb(onsets[i]?.peak ?? 0)),
    }));
    const list = onsets.map(({ frame, strength }) => ({
      frame,
      seconds: frame / sampleRate,
      strength: round(strength),
    }));
    process.stdout.write(`${JSON.stringify({ file, sampleRate, frames, onsets: list, slices })}\n`);
  });
}

function round(value: number): number | null {
  return Number.isFinite(value) ? Math.round(value * 1000) / 1000 : null;
}
