import { type Span as Stretch, spansOf } from '@/core/overview/pack';
import type { Palette } from '../parts/canvas';
import { clock } from '../parts/figures';

/** Height of the strip under the overview's wave, in pixels. */
export const STRIP_HEIGHT = 7;

/** The stretches of a recording as its stored overview has them; none where it was not listened to yet. */
export function stretchesOf(overview: string | null): readonly Stretch[] {
  if (overview === null) return [];
  const text = atob(overview);
  return spansOf(Uint8Array.from(text, (c) => c.charCodeAt(0)));
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
export function wordsAt(stretches: readonly Stretch[], seconds: number): string {
  const found = stretches.find((s) => seconds >= s.start && seconds < s.end);
  return found ? `${WORDS[found.kind]}, ${clock(found.start)} to ${clock(found.end)}` : '';
}

/** Bare stretches as full blocks, those under tones as a thin line, tones alone as dots, quiet as nothing. */
export function drawStrip(
  ctx: CanvasRenderingContext2D,
  stretches: readonly Stretch[],
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
}
