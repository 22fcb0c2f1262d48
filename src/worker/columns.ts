import { type Audio, frameCount } from '@/core/signal/audio';

/** Columns to draw of a sound, and the frames [start, end) that they cover: all of it by default. */
export interface WaveView {
  readonly columns: number;
  readonly start?: number;
  readonly end?: number;
}

/** Calls back with [from, to) of each column of a view, a frame at least. */
function eachColumn(view: WaveView, frames: number, use: (column: number, from: number, to: number) => void): void {
  const { columns, start = 0, end = frames } = view;
  for (let column = 0; column < columns; column++) {
    const from = Math.floor(start + (column * (end - start)) / columns);
    use(column, from, Math.max(from + 1, Math.floor(start + ((column + 1) * (end - start)) / columns)));
  }
}

/** The least value of each column. */
export function lowest(curve: Float32Array, view: WaveView): Float32Array {
  const values = new Float32Array(view.columns);
  eachColumn(view, curve.length, (column, from, to) => {
    let least = curve[from] ?? 0;
    for (let i = from; i < Math.min(to, curve.length); i++) least = Math.min(least, curve[i] as number);
    values[column] = least;
  });
  return values;
}

/** The lowest and highest sample of each column over all channels, interleaved. */
export function extremes(audio: Audio, gain: number, view: WaveView): Float32Array {
  const frames = frameCount(audio);
  const pairs = new Float32Array(2 * view.columns);
  eachColumn(view, frames, (column, from, to) => {
    for (const channel of audio.channels) {
      for (let i = from; i < Math.min(to, frames); i++) {
        const x = (channel[i] as number) * gain;
        if (x < (pairs[2 * column] as number)) pairs[2 * column] = x;
        if (x > (pairs[2 * column + 1] as number)) pairs[2 * column + 1] = x;
      }
    }
  });
  return pairs;
}
