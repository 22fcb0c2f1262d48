import { useRef } from 'react';
import { drawColumns } from '@/picture/wave';
import type { Variant } from '@/worker/variants';
import { beginDrawing, useDrawing, usePalette } from '../parts/canvas';
import { decibels } from '../parts/figures';

const [WIDTH, HEIGHT] = [132, 40];
/** A sum that loses so much under 200 Hz is told. */
const TOLD_DB = 1;

interface VariantCellProps {
  readonly id: string;
  readonly name: string;
  /** Null while it is rendered. */
  readonly variant: Variant | null;
  /** As the layered hit is now. */
  readonly isNow: boolean;
  readonly isAt: boolean;
  readonly isKept: boolean;
  readonly onHear: () => void;
  readonly onKeep: () => void;
}

/** One pair of sounds: its wave, what its lows lose, and whether it is to be kept. */
export function VariantCell({ id, name, variant, isNow, isAt, isKept, onHear, onKeep }: VariantCellProps) {
  const canvas = useRef<HTMLCanvasElement>(null);
  const palette = usePalette();
  useDrawing(() => {
    if (!canvas.current || !variant) return;
    const ctx = beginDrawing(canvas.current, WIDTH, HEIGHT);
    ctx.clearRect(0, 0, WIDTH, HEIGHT);
    const loudest = variant.wave.reduce((most, x) => Math.max(most, Math.abs(x)), 1e-6);
    const columns = variant.wave.length / 2;
    ctx.save();
    ctx.scale(WIDTH / columns, 1);
    drawColumns(ctx, variant.wave, HEIGHT, 0.95 / loudest, palette('wave'));
    ctx.restore();
  }, [variant, palette]);
  return (
    <div className={`flex items-center rounded border ${isAt ? 'border-verdigris bg-selection' : 'border-line'}`}>
      <button id={id} type="button" className="block text-left" aria-label={`Hear ${name}`} onClick={onHear}>
        <canvas ref={canvas} style={{ width: WIDTH, height: HEIGHT }} aria-hidden />
        <span className="figure block px-1 text-[11px] text-soft">
          {!variant ? 'rendering …' : isNow ? 'as it is' : ''}
          {variant && variant.lostDb >= TOLD_DB && (
            <span className="text-madder"> lows lose {decibels(variant.lostDb)}</span>
          )}
          &nbsp;
        </span>
      </button>
      <input
        type="checkbox"
        className="mx-2 accent-verdigris"
        aria-label={`Keep ${name}`}
        checked={isKept}
        disabled={!variant}
        onChange={onKeep}
      />
    </div>
  );
}
