import type { RecordingView } from '@/contract/views';
import type { Region } from '@/core/onset/split';
import { fitAll, fitStretch, type MarkedStretch, zoomAt } from '@/picture/span';
import { tell } from '../parts/notice';
import type { useSpan } from '../parts/use-span';
import { useStable } from '../parts/use-stable';
import type { bareStretches } from './strip';
import type { ZoomTo } from './ViewTools';

/** Moves the view: zooms around what is worked on, and goes from one bare stretch to the next. */
export function useMoves(
  recording: RecordingView,
  spans: ReturnType<typeof useSpan>,
  bare: ReturnType<typeof bareStretches>,
  stretch: MarkedStretch | null,
  subject: Region | null | undefined,
) {
  const zoom = useStable((what: ZoomTo) => {
    const w = spans.width();
    const span = spans.get();
    const total = recording.frames;
    const centre = subject ? Math.max(0, Math.min(w, (subject.startFrame - span.start) / span.framesPerPixel)) : w / 2;
    const wanted = stretch ?? (subject && { start: subject.startFrame, end: subject.endFrame });
    if (what === 'fit') spans.set(() => fitAll(w, total));
    else if (what === 'slice') wanted && spans.set(() => fitStretch(wanted.start, wanted.end, w, total));
    else spans.set((s) => zoomAt(s, what === 'in' ? 0.5 : 2, centre, w, total));
  });

  /**
   * Shows the next or previous bare stretch from the middle of the view, and returns it in frames; null where there is
   * none.
   */
  const bareFrom = (by: 1 | -1): { start: number; end: number } | null => {
    const rate = recording.sampleRate;
    const span = spans.get();
    const centre = (span.start + (spans.width() * span.framesPerPixel) / 2) / rate;
    const middle = (s: (typeof bare)[number]) => (s.start + s.end) / 2;
    const next =
      by > 0
        ? (bare.find((s) => middle(s) > centre + 0.05) ?? bare[0])
        : (bare.findLast((s) => middle(s) < centre - 0.05) ?? bare.at(-1));
    if (!next) {
      tell(recording.analysed ? 'Nowhere does struck sound stand alone here.' : 'Still listening.');
      return null;
    }
    spans.set(() => fitStretch(next.start * rate, next.end * rate, spans.width(), recording.frames));
    return { start: next.start * rate, end: next.end * rate };
  };
  return { zoom, bareFrom };
}
