import type { Context2D } from './canvas';
import { paintWave } from './wave';
import type { WaveSource } from './wave-source';

const [SHEET, CHOSEN, WAVE, LINE] = ['#010203', '#040506', '#070809', '#0a0b0c'];
const palette = (token: string) => ({ sheet: SHEET, selection: CHOSEN, wave: WAVE, line: LINE })[token] as string;

class PlainImageData {
  readonly data: Uint8ClampedArray;
  constructor(
    readonly width: number,
    readonly height: number,
  ) {
    this.data = new Uint8ClampedArray(4 * width * height);
  }
}

describe('a wave painted pixel by pixel', () => {
  beforeAll(() => Object.assign(globalThis, { ImageData: PlainImageData }));

  it('is the band between lowest and highest of each column, on the ground that lies there', () => {
    const [width, height] = [40, 61];
    // Columns that nest, cross the middle, lie to one side of it, touch the edge, and one that is still being fetched.
    const low = Array.from({ length: width }, (_, x) => (x === 7 ? Number.NaN : -Math.abs(Math.sin(x)) * (x / 30)));
    const high = low.map((value, x) => (x % 5 === 0 ? value + 0.1 : -value * 0.6 + 0.02));
    const source = {
      columns: (_start: number, _step: number, columns: number, out: Float32Array) => {
        for (let x = 0; x < columns; x++) [out[2 * x], out[2 * x + 1]] = [low[x] as number, high[x] as number];
        return false;
      },
    } as unknown as WaveSource;
    let put: { image: PlainImageData; from: number; rows: number } | null = null;
    const ctx = {
      save() {},
      restore() {},
      translate() {},
      fillRect() {},
      putImageData: (
        image: PlainImageData,
        _x: number,
        _y: number,
        _dx: number,
        dy: number,
        _w: number,
        rows: number,
      ) => {
        put = { image, from: dy, rows };
      },
    } as unknown as Context2D;
    const view = { start: 0, framesPerPixel: 100, width, height, gain: 1 };
    paintWave(ctx, source, view, 0, 1, [{ from: 10, to: 20 }], palette);
    if (put === null) throw new Error('nothing was painted');
    const { image, from, rows } = put as { image: PlainImageData; from: number; rows: number };
    const y = (value: number) =>
      height / 2 - Math.max(-1.02 * (height / 2), Math.min(1.02 * (height / 2), value * (height / 2 - 2)));
    const band = (x: number) => {
      const first = Math.min(height - 1, Math.max(0, Math.round(y(high[x] as number))));
      return [first, Math.min(height - 1, Math.max(first, Math.round(y(low[x] as number)) - 1))] as const;
    };
    const isInside = (b: readonly [number, number] | null | undefined, row: number) =>
      !!b && row >= b[0] && row <= b[1];
    const bands = low.map((_, x) => (x === 7 ? null : band(x)));
    expect(from).toBe(Math.min(...bands.map((b) => b?.[0] ?? height)));
    expect(from + rows - 1).toBe(Math.max(...bands.map((b) => b?.[1] ?? -1)));
    for (let row = from; row < from + rows; row++) {
      for (let x = 0; x < width; x++) {
        const inside = isInside(bands[x], row);
        const expected = inside ? WAVE : row === Math.round(height / 2) ? LINE : x >= 10 && x < 20 ? CHOSEN : SHEET;
        const at = 4 * (row * width + x);
        const found = [...image.data.slice(at, at + 4)].map((byte) => byte.toString(16).padStart(2, '0')).join('');
        expect([row, x, found]).toEqual([row, x, `${(expected as string).slice(1)}ff`]);
      }
    }
  });
});
