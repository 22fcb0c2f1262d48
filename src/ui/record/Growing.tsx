import { useRef } from 'react';
import { COLUMN_FRAMES } from '@/core/capture/growing';
import { drawGrowing, type GrowingScene, growingSpan, strokeNear } from '@/picture/growing';
import { beginDrawing, useDrawing, usePalette, useSize } from '../parts/canvas';
import { useStore } from '../parts/store';
import { isRecording, recorder } from './recorder';

/** So much is in sight while a take runs. */
const SECONDS_SHOWN = 12;

/** The take that runs, or the last one: its wave, and an arch for each stroke to choose. */
export function Growing({ chosen, onChoose }: { chosen: number | null; onChoose: (frame: number | null) => void }) {
  const box = useRef<HTMLDivElement>(null);
  const canvas = useRef<HTMLCanvasElement>(null);
  const { width, height } = useSize(box);
  const palette = usePalette();
  const changed = useStore(recorder.take.changed);
  const isRunning = useStore(recorder.state, (state) => isRecording(state) || state.phase === 'at once');
  const scene = (): GrowingScene => {
    const { pairs, columns, strokes, frames, sampleRate } = recorder.take;
    const span = growingSpan({ frames, sampleRate, isRunning }, SECONDS_SHOWN);
    return { pairs, columns, columnFrames: COLUMN_FRAMES, strokes, frames, sampleRate, ...span, chosen, isRunning };
  };
  useDrawing(() => {
    if (canvas.current && width > 0)
      drawGrowing(beginDrawing(canvas.current, width, height), scene(), width, height, palette);
  }, [changed, isRunning, chosen, width, height, palette]);
  return (
    <div ref={box} className="relative min-h-[140px] min-w-0 flex-1">
      <canvas
        ref={canvas}
        role="img"
        aria-label="Wave of the take"
        data-testid="take-wave"
        data-columns={recorder.take.columns}
        data-strokes={recorder.take.strokes.length}
        className="absolute inset-0 h-full w-full"
        onPointerDown={(event) => {
          const { left } = event.currentTarget.getBoundingClientRect();
          onChoose(strokeNear(scene(), event.clientX - left, width));
        }}
      />
    </div>
  );
}
