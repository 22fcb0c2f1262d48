import { type RefObject, useEffect, useMemo, useRef, useState, useSyncExternalStore } from 'react';
import { COLOURS, type Colours, fitCanvas, type Palette } from '@/picture/canvas';

function readColours(): Colours {
  const style = getComputedStyle(document.documentElement);
  return Object.fromEntries(COLOURS.map((token) => [token, style.getPropertyValue(`--${token}`).trim()])) as Colours;
}

/** Colours of the current theme, read once and again when the theme changes. */
class ThemeColours {
  private colours: Colours | null = null;
  private readonly listeners = new Set<() => void>();
  private observer: MutationObserver | null = null;

  readonly now = (): Colours | null => this.colours;

  readonly subscribe = (listener: () => void): (() => void) => {
    this.listeners.add(listener);
    if (!this.observer) {
      this.observer = new MutationObserver(() => this.read());
      this.observer.observe(document.documentElement, { attributes: true, attributeFilter: ['data-theme'] });
      this.read();
    }
    return () => {
      this.listeners.delete(listener);
      if (this.listeners.size > 0) return;
      this.observer?.disconnect();
      this.observer = null;
    };
  };

  private read(): void {
    this.colours = readColours();
    for (const listener of this.listeners) listener();
  }
}

const theme = new ThemeColours();

/** The colours of the theme that is on; null before they are known. */
export function useColours(): Colours | null {
  return useSyncExternalStore(theme.subscribe, theme.now, () => null);
}

/** The same as a palette function for drawing. */
export function usePalette(): Palette {
  const colours = useColours();
  return useMemo(() => (token) => colours?.[token as keyof Colours] ?? '#000', [colours]);
}

/** Width and height of an element in CSS pixels, kept current; not measured where the width is given. */
export function useSize(ref: RefObject<HTMLElement | null>, knownWidth?: number): { width: number; height: number } {
  const [size, setSize] = useState({ width: knownWidth ?? 0, height: 0 });
  useEffect(() => {
    const element = ref.current;
    if (!element || knownWidth !== undefined) return;
    const observer = new ResizeObserver(() => setSize({ width: element.clientWidth, height: element.clientHeight }));
    observer.observe(element);
    return () => observer.disconnect();
  }, [ref, knownWidth]);
  return size;
}

/** Prepares a canvas for drawing in CSS pixels at the screen's own resolution, cleared. */
export function beginDrawing(canvas: HTMLCanvasElement, width: number, height: number): CanvasRenderingContext2D {
  const ctx = canvas.getContext('2d') as CanvasRenderingContext2D;
  fitCanvas(canvas, ctx, width, height, window.devicePixelRatio || 1);
  ctx.clearRect(0, 0, width, height);
  return ctx;
}

/** Draws at most once a frame, when one of its dependencies has changed. */
export function useDrawing(draw: () => void, dependencies: readonly unknown[]): void {
  const latest = useRef(draw);
  latest.current = draw;
  useEffect(() => {
    const frame = requestAnimationFrame(() => latest.current());
    return () => cancelAnimationFrame(frame);
    // biome-ignore lint/correctness/useExhaustiveDependencies: the caller names what the picture depends on
  }, dependencies);
}
