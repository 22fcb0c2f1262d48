/** The last seconds of an input, in blocks as they came. */
export class History {
  private blocks: Float32Array[][] = [];
  /** Frames that are kept. */
  frames = 0;

  constructor(private readonly mostFrames: number) {}

  /** Appends a block: one array a channel, all of one length. They are kept, so the caller must not change them. */
  add(channels: Float32Array[]): void {
    this.blocks.push(channels);
    this.frames += channels[0]?.length ?? 0;
    for (;;) {
      const oldest = this.blocks[0]?.[0]?.length ?? 0;
      if (oldest === 0 || this.frames - oldest < this.mostFrames) return;
      this.frames -= oldest;
      this.blocks.shift();
    }
  }

  /** The last frames of each channel, fewer where fewer are there. */
  last(frames: number): Float32Array[] {
    const count = Math.min(frames, this.frames);
    const channels = (this.blocks[0] ?? []).map(() => new Float32Array(count));
    let at = count;
    for (let n = this.blocks.length - 1; n >= 0 && at > 0; n--) {
      const block = this.blocks[n] as Float32Array[];
      const length = block[0]?.length ?? 0;
      const some = Math.min(at, length);
      at -= some;
      for (const [c, channel] of channels.entries())
        channel.set((block[c] as Float32Array).subarray(length - some), at);
    }
    return channels;
  }

  clear(): void {
    this.blocks = [];
    this.frames = 0;
  }
}
