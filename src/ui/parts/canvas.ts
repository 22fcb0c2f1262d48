import { type RefObject, useEffect, useRef, useState } from 'react';

/** Colour tokens read once a theme, so that drawing asks no styles. */
export type Palette = (token: string) => string;

export function readPalette(): Palette {
  const style = getComputedStyle(document.documentElement);
  const cache = new Map<string, string>();
  return (token) => {
    let colour = cache.get(token);
    if (colour === undefined) {
      colour = style.getPropertyValue(`--${token}`).trim();
      cache.set(token, colour);
    }
    return colour;
  };
}

/** The palette of the theme that is on, read anew when the theme changes. */
export function usePalette(): Palette {
  const [palette, setPalette] = useState<Palette>(() =>
    typeof document === 'undefined' ? () => '#000' : readPalette(),
  );
  useEffect(() => {
    const read = () => setPalette(() => readPalette());
    read();
    const observer = new MutationObserver(read);
    observer.observe(document.documentElement, { attributes: true, attributeFilter: ['data-theme'] });
    return () => observer.disconnect();
  }, []);
  return palette;
}

/** Width and height of an element in CSS pixels, followed as it changes. */
export function useSize(ref: RefObject<HTMLElement | null>): { width: number; height: number } {
  const [size, setSize] = useState({ width: 0, height: 0 });
  useEffect(() => {
    const element = ref.current;
    if (!element) return;
    const observer = new ResizeObserver(() => setSize({ width: element.clientWidth, height: element.clientHeight }));
    observer.observe(element);
    return () => observer.disconnect();
  }, [ref]);
  return size;
}

/** Prepares a canvas for drawing in CSS pixels at the screen's own resolution, cleared. */
export function beginDrawing(canvas: HTMLCanvasElement, width: number, height: number): CanvasRenderingContext2D {
  const ratio = window.devicePixelRatio || 1;
  if (canvas.width !== Math.round(width * ratio) || canvas.height !== Math.round(height * ratio)) {
    canvas.width = Math.round(width * ratio);
    canvas.height = Math.round(height * ratio);
  }
  const ctx = canvas.getContext('2d') as CanvasRenderingContext2D;
  ctx.setTransform(ratio, 0, 0, ratio, 0, 0);
  ctx.clearRect(0, 0, width, height);
  return ctx;
}

/** Draws once a frame at most, whenever something it depends on has changed. */
export function useDrawing(draw: () => void, dependencies: readonly unknown[]): void {
  const latest = useRef(draw);
  latest.current = draw;
  useEffect(() => {
    const frame = requestAnimationFrame(() => latest.current());
    return () => cancelAnimationFrame(frame);
    // biome-ignore lint/correctness/useExhaustiveDependencies: the caller names what the picture depends on
  }, dependencies);
}
