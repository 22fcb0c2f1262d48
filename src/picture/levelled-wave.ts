/** What a wave is drawn from; see `WaveSource`. */
export interface WaveReader {
  columns(start: number, framesPerColumn: number, width: number, out: Float32Array, end?: number): boolean;
  sample(frame: number): number;
}

/** A stretch of a recording that is shown with another gain. */
export interface ShownLevel {
  readonly startFrame: number;
  readonly endFrame: number;
  /** Linear. */
  readonly gain: number;
}

/**
 * A wave with the level that parts of it will have: hits of slices that are made louder or quieter. Without such parts the
 * wave itself. They are in order of their starts; where they overlap the later one counts.
 */
export function levelledWave(source: WaveReader, levels: readonly ShownLevel[]): WaveReader {
  if (levels.length === 0) return source;
  return {
    sample: (frame) => {
      const level = levels.findLast((l) => frame >= l.startFrame && frame < l.endFrame);
      return source.sample(frame) * (level?.gain ?? 1);
    },
    columns(start, framesPerColumn, width, out, end) {
      const whole = source.columns(start, framesPerColumn, width, out, end);
      for (const [i, { startFrame, endFrame, gain }] of levels.entries()) {
        const from = Math.max(0, Math.ceil((startFrame - start) / framesPerColumn - 0.5));
        const until = Math.min(endFrame, levels[i + 1]?.startFrame ?? endFrame);
        const to = Math.min(width, Math.ceil((until - start) / framesPerColumn - 0.5));
        for (let x = from; x < to; x++) {
          out[2 * x] = (out[2 * x] as number) * gain;
          out[2 * x + 1] = (out[2 * x + 1] as number) * gain;
        }
      }
      return whole;
    },
  };
}
