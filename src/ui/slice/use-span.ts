import { type RefObject, useCallback, useEffect, useState } from 'react';
import { fitAll, type Span } from './view';

export interface SpanDesk {
  readonly span: Span;
  readonly setSpan: (change: (span: Span) => Span) => void;
  /** Width of the stage in pixels. */
  readonly width: () => number;
}

/** The span that is shown; all of the recording until the person zooms. */
export function useSpan(stage: RefObject<HTMLDivElement | null>, frames: number): SpanDesk {
  const [span, setSpan] = useState<Span>({ start: 0, framesPerPixel: frames / 1280 });
  const width = useCallback(() => stage.current?.clientWidth ?? 1280, [stage]);
  useEffect(() => setSpan(fitAll(width(), frames)), [width, frames]);
  return { span, setSpan, width };
}
