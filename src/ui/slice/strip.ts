import { fromBase64 } from '@/core/bytes';
import { STEP_SECONDS } from '@/core/overview/overview';
import { overviewStep, overviewSteps, type Span as Stretch, spansOf } from '@/core/overview/pack';
import type { Palette } from '@/picture/canvas';
import { clock } from '../parts/figures';

/** Height of the strip under the overview's wave, in pixels. */
export const STRIP_HEIGHT = 7;

/** A recording's stored overview: its stretches, and the times of clicks in seconds. */
export interface Strip {
  readonly stretches: readonly Stretch[];
  readonly clicks: readonly number[];
}

/** The strip of a recording; empty before its analysis. */
export function stripOf(overview: string | null): Strip {
  if (overview === null) return { stretches: [], clicks: [] };
  const packed = fromBase64(overview);
  const clicks = Array.from({ length: overviewSteps(packed) }, (_, s) => s)
    .filter((s) => overviewStep(packed, s).clicks > 0)
    .map((s) => (s + 0.5) * STEP_SECONDS);
  return { stretches: spansOf(packed), clicks };
}

/** Where struck sound stands alone. */
export function bareStretches(stretches: readonly Stretch[]): readonly Stretch[] {
  return stretches.filter((s) => s.kind === 'bare');
}

const WORDS = {
  bare: 'struck sound alone',
  under: 'struck sound under tones',
  tones: 'tones without strikes',
  quiet: 'quiet',
} as const;

/** What stands at a time, in words. */
export function wordsAt({ stretches, clicks }: Strip, seconds: number): string {
  const found = stretches.find((s) => seconds >= s.start && seconds < s.end);
  if (!found) return '';
  const clicking = clicks.some((at) => Math.abs(at - seconds) < STEP_SECONDS) ? '; clicks' : '';
  return `${WORDS[found.kind]}, ${clock(found.start)} to ${clock(found.end)}${clicking}`;
}

/**
 * Bare stretches as full blocks, those under tones as a thin line, tones alone as dots, quiet as nothing; clicks over
 * them.
 */
export function drawStrip(
  ctx: CanvasRenderingContext2D,
  { stretches, clicks }: Strip,
  top: number,
  pixelsPerSecond: number,
  palette: Palette,
): void {
  for (const { kind, start, end } of stretches) {
    const x = start * pixelsPerSecond;
    const width = Math.max(1, (end - start) * pixelsPerSecond);
    if (kind === 'bare') {
      ctx.fillStyle = palette('verdigris');
      ctx.fillRect(x, top, width, STRIP_HEIGHT);
    } else if (kind === 'under') {
      ctx.fillStyle = palette('edge');
      ctx.fillRect(x, top + STRIP_HEIGHT - 2, width, 1);
    } else if (kind === 'tones') {
      ctx.fillStyle = palette('slate');
      for (let dot = x; dot < x + width; dot += 4) ctx.fillRect(dot, top + STRIP_HEIGHT - 2, 1, 1);
    }
  }
  ctx.fillStyle = palette('madder');
  for (const at of clicks) ctx.fillRect(Math.round(at * pixelsPerSecond), top - 2, 1, 3);
}
