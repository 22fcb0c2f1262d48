import { type HTMLAttributes, type MouseEvent, type PointerEvent, type RefObject, useRef, useState } from 'react';
import type { Stored } from '@/contract/documents';
import type { RecordingView } from '@/contract/views';
import type { Slice } from '@/core/recording/model';
import { COLONNADE_HEIGHT } from '@/picture/colonnade';
import type { WaveReader } from '@/picture/levelled-wave';
import { frameToX, type MarkedStretch, xToFrame } from '@/picture/span';
import type { SplitMarks } from '@/picture/stage';
import { gainInSight } from '@/picture/wave';
import type { Edge } from '../hits/edits';
import type { SelectMode } from '../parts/listing';
import { selectModeOf } from '../parts/listing';
import type { SpanDesk } from '../parts/use-span';

type Gesture =
  | { kind: 'edge'; id: string; edge: Edge; offset: number }
  | { kind: 'mark'; from: number; moved: boolean }
  | { kind: 'threshold' }
  | { kind: 'downbeat'; offset: number }
  | null;

/** Distance in pixels within which an edge is grasped; larger for the chosen slice. */
const NEAR = 5;
const NEAR_CHOSEN = 12;

export interface StageHandProps {
  readonly recording: RecordingView;
  readonly source: WaveReader;
  readonly slices: readonly Stored<Slice>[];
  readonly chosenId: string | null;
  readonly marks: SplitMarks;
  readonly spans: SpanDesk;
  /** View gain; 0 for automatic. */
  readonly gain: number;
  readonly setStretch: (stretch: MarkedStretch | null) => void;
  /** The threshold of a split at silence under the pointer, as an amplitude. */
  readonly onThreshold: (amplitude: number, done: boolean) => void;
  /** The first downbeat of a grid under the pointer. */
  readonly onDownbeat: (frame: number, done: boolean) => void;
  readonly onChoose: (id: string | null, how?: SelectMode) => void;
  readonly onAdd: (frame: number) => void;
  /** An edge under the pointer: shown while it moves, stored when it is released. */
  readonly onDragEdge: (id: string, edge: Edge, frame: number, done: boolean) => void;
  readonly widthRef: RefObject<HTMLDivElement | null>;
}

/** What the pointer does on the stage: edges, the threshold and the downbeat are dragged, stretches marked, slices chosen. */
export function useStageHand(
  props: StageHandProps,
  { width, height: whole }: { readonly width: number; readonly height: number },
): HTMLAttributes<HTMLDivElement> {
  const { recording, source, slices, chosenId, marks, spans, gain, setStretch, widthRef } = props;
  const height = Math.max(0, whole - COLONNADE_HEIGHT);
  const gesture = useRef<Gesture>(null);
  const [cursor, setCursor] = useState('crosshair');

  const place = (event: MouseEvent) => {
    const box = (widthRef.current as HTMLDivElement).getBoundingClientRect();
    return { x: event.clientX - box.left, y: event.clientY - box.top };
  };
  const edgeAt = (x: number): { id: string; edge: Edge } | null => {
    let best: { id: string; edge: Edge; distance: number } | null = null;
    const span = spans.get();
    for (const slice of slices) {
      for (const edge of ['start', 'end'] as const) {
        const distance = Math.abs(frameToX(span, edge === 'start' ? slice.startFrame : slice.endFrame) - x);
        const near = slice.id === chosenId ? NEAR_CHOSEN : NEAR;
        // Where an end lies on a start, the start is meant: the end follows it.
        const rank = distance + (edge === 'end' ? 0.4 : 0) - (slice.id === chosenId ? 2 : 0);
        if (distance <= near && (!best || rank < best.distance)) best = { id: slice.id, edge, distance: rank };
      }
    }
    return best;
  };
  const gainNow = () => (gain === 0 ? gainInSight(source, spans.get(), width) : gain);
  /** Distance of the silence threshold from the middle line, in pixels. */
  const silenceAway = () => Math.min(height / 2 - 1, (marks.threshold ?? 0) * (height / 2 - 2) * gainNow());
  const overThreshold = (y: number) =>
    marks.threshold !== null && Math.abs(Math.abs(y - COLONNADE_HEIGHT - height / 2) - silenceAway()) <= NEAR;
  const amplitudeAt = (y: number) =>
    Math.max(1e-5, Math.min(1, Math.abs(y - COLONNADE_HEIGHT - height / 2) / ((height / 2 - 2) * gainNow())));
  const downbeat = marks.lines[0]?.frame;
  const overDownbeat = (x: number, y: number) =>
    downbeat !== undefined && Math.abs(frameToX(spans.get(), downbeat) - x) <= 12 && y > whole - 24;
  const sliceAt = (x: number) => {
    const frame = xToFrame(spans.get(), x);
    return slices.filter((s) => s.startFrame <= frame && frame < s.endFrame).at(-1)?.id ?? null;
  };

  const onPointerDown = (event: PointerEvent<HTMLDivElement>) => {
    if (event.button !== 0 || (event.target as HTMLElement).closest('button')) return;
    const { x, y } = place(event);
    const span = spans.get();
    event.currentTarget.setPointerCapture(event.pointerId);
    const edge = edgeAt(x);
    if (overDownbeat(x, y)) gesture.current = { kind: 'downbeat', offset: frameToX(span, downbeat as number) - x };
    else if (overThreshold(y)) gesture.current = { kind: 'threshold' };
    else if (edge) {
      const slice = slices.find((s) => s.id === edge.id) as Slice;
      const at = frameToX(span, edge.edge === 'start' ? slice.startFrame : slice.endFrame);
      gesture.current = { kind: 'edge', ...edge, offset: at - x };
    } else gesture.current = { kind: 'mark', from: x, moved: false };
  };
  const onPointerMove = (event: PointerEvent<HTMLDivElement>) => {
    const { x, y } = place(event);
    const span = spans.get();
    const g = gesture.current;
    if (!g)
      setCursor(overDownbeat(x, y) ? 'grab' : overThreshold(y) ? 'ns-resize' : edgeAt(x) ? 'ew-resize' : 'crosshair');
    else if (g.kind === 'threshold') props.onThreshold(amplitudeAt(y), false);
    else if (g.kind === 'downbeat') props.onDownbeat(Math.round(xToFrame(span, x + g.offset)), false);
    else if (g.kind === 'edge') props.onDragEdge(g.id, g.edge, Math.round(xToFrame(span, x + g.offset)), false);
    else if (g.moved || Math.abs(x - g.from) > 4) {
      g.moved = true;
      const [a, b] = [xToFrame(span, g.from), xToFrame(span, x)].sort((p, q) => p - q) as [number, number];
      setStretch({ start: Math.max(0, Math.round(a)), end: Math.min(recording.frames, Math.round(b)) });
    }
  };
  const onPointerUp = (event: PointerEvent<HTMLDivElement>) => {
    const { x, y } = place(event);
    const span = spans.get();
    const g = gesture.current;
    gesture.current = null;
    if (g?.kind === 'threshold') props.onThreshold(amplitudeAt(y), true);
    else if (g?.kind === 'downbeat') props.onDownbeat(Math.round(xToFrame(span, x + g.offset)), true);
    else if (g?.kind === 'edge') props.onDragEdge(g.id, g.edge, Math.round(xToFrame(span, x + g.offset)), true);
    else if (g?.kind === 'mark' && !g.moved) {
      setStretch(null);
      props.onChoose(sliceAt(x), selectModeOf(event));
    }
  };

  return {
    style: { cursor },
    onPointerDown,
    onPointerMove,
    onPointerUp,
    onPointerCancel: () => {
      gesture.current = null;
    },
    onDoubleClick: (event) => {
      if (!(event.target as HTMLElement).closest('button'))
        props.onAdd(Math.round(xToFrame(spans.get(), place(event).x)));
    },
  };
}
