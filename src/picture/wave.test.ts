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
    // Where a value lies: the middle is nought, full scale two pixels from the edge, and nothing lies outside of the picture.
    const y = (value: number) => Math.min(height, Math.max(0, height / 2 - value * (height / 2 - 2)));
    for (let x = 0; x < width; x++) {
      const [top, bottom] = [y(high[x] as number), y(low[x] as number)];
      let inWave = 0;
      for (let row = from; row < from + rows; row++) {
        const at = 4 * (row * width + x);
        const found = `#${[...image.data.slice(at, at + 3)].map((byte) => byte.toString(16).padStart(2, '0')).join('')}`;
        expect(image.data[at + 3]).toBe(255);
        if (found === WAVE) inWave++;
        // How far the pixel lies inside of the band, in pixels; at the band's edges either colour will do.
        const inside = Math.min(row + 0.5 - top, bottom - row - 0.5);
        if (inside > 1) expect([row, x, found]).toEqual([row, x, WAVE]);
        else if (Number.isNaN(inside) || inside < -1) {
          // The middle line is one row high.
          const ground = x >= 10 && x < 20 ? CHOSEN : SHEET;
          const near = Math.abs(row + 0.5 - height / 2) <= 1;
          expect(near ? [ground, LINE] : [ground]).toContain(found);
        }
      }
      // A band shows however thin it is, and one that is still being fetched does not.
      if (x === 7) expect(inWave).toBe(0);
      else expect(Math.abs(inWave - Math.max(1, bottom - top))).toBeLessThan(2);
    }
  });
});
