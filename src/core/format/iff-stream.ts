import { joinBytes } from '../bytes';

/** How to treat a chunk: collect its body, stream it as sound, or skip it. */
export type ChunkPlan = 'keep' | 'sound' | 'skip';

/** The rules of one kind of chunked file. */
export interface ChunkRules {
  readonly bigEndian: boolean;
  /** Checks the 12 bytes before the first chunk; throws where they belong to another kind of file. */
  form(head: Uint8Array): void;
  plan(id: string, size: number): ChunkPlan;
  body(id: string, bytes: Uint8Array): void;
  /** Bytes of the chunk that holds the sound, in order. */
  sound(bytes: Uint8Array): void;
  /** Length of the sound where the header's size is unreliable; infinity reads to the end of the file. */
  soundSize(size: number): number;
  /** Whether an open-ended sound chunk is followed by another chunk, so that it is empty after all. */
  reallyEmpty(nextId: string): boolean;
}

type State =
  | { kind: 'form' }
  | { kind: 'chunk' }
  | { kind: 'body'; id: string; size: number }
  | { kind: 'skip'; left: number }
  | { kind: 'sound'; left: number; size: number; begun: boolean }
  | { kind: 'rest' };

/** Longest chunk that is collected; a longer one is skipped. */
export const LARGEST_KEPT_CHUNK = 1024 * 1024;
/** Limit for all collected chunks together, against files that would fill the memory. */
const LARGEST_KEPT_ALTOGETHER = 8 * 1024 * 1024;

/**
 * Walks the chunks of an IFF-like file (RIFF, RF64, AIFF) as it arrives, in pieces of any size. Chunks are an id of four
 * characters, a 32-bit size, a body, and a pad byte after an odd one (Electronic Arts, "EA IFF 85", 1985).
 */
export class IffStream {
  seen = 0;
  /** Bytes after the last valid chunk. */
  trailing = 0;
  private state: State = { kind: 'form' };
  private pending = new Uint8Array(0);
  private kept = 0;

  constructor(private readonly rules: ChunkRules) {}

  /** Whether the file ended within its first 12 bytes. */
  get formMissing(): boolean {
    return this.state.kind === 'form';
  }

  get head(): Uint8Array {
    return this.pending;
  }

  push(bytes: Uint8Array): void {
    this.seen += bytes.length;
    let rest = bytes;
    if (this.pending.length > 0) {
      rest = joinBytes([this.pending, bytes]);
      this.pending = new Uint8Array(0);
    }
    while (rest.length > 0) {
      const used = this.step(rest);
      if (used === 0) {
        this.pending = rest.slice();
        return;
      }
      rest = rest.subarray(used);
    }
  }

  /** Consumes from the front of `bytes`; returns how many, or 0 when more are needed first. */
  private step(bytes: Uint8Array): number {
    const state = this.state;
    switch (state.kind) {
      case 'form':
        if (bytes.length < 12) return 0;
        this.rules.form(bytes.subarray(0, 12));
        this.state = { kind: 'chunk' };
        return 12;
      case 'chunk':
        return this.readChunkHeader(bytes);
      case 'body': {
        if (bytes.length < state.size) return 0;
        // A copy, because it outlives the piece it came in.
        this.rules.body(state.id, bytes.slice(0, state.size));
        this.state = state.size % 2 === 1 ? { kind: 'skip', left: 1 } : { kind: 'chunk' };
        return state.size;
      }
      case 'skip': {
        const used = Math.min(state.left, bytes.length);
        state.left -= used;
        if (state.left === 0) this.state = { kind: 'chunk' };
        return used;
      }
      case 'sound':
        return this.readSound(state, bytes);
      case 'rest':
        this.trailing += bytes.length;
        return bytes.length;
    }
  }

  private readChunkHeader(bytes: Uint8Array): number {
    if (bytes.length < 8) return 0;
    const id = chunkId(bytes, 0);
    if (!/^[\x20-\x7e]{4}$/.test(id)) {
      this.state = { kind: 'rest' };
      return this.step(bytes);
    }
    const size = new DataView(bytes.buffer, bytes.byteOffset).getUint32(4, !this.rules.bigEndian);
    const plan = this.rules.plan(id, size);
    if (plan === 'sound') {
      const real = this.rules.soundSize(size);
      this.state =
        real === 0 ? { kind: 'chunk' } : { kind: 'sound', left: real, size: real, begun: Number.isFinite(real) };
    } else if (plan === 'keep' && size <= LARGEST_KEPT_CHUNK && this.kept + size <= LARGEST_KEPT_ALTOGETHER) {
      this.kept += size;
      this.state = size === 0 ? { kind: 'chunk' } : { kind: 'body', id, size };
    } else this.state = size === 0 ? { kind: 'chunk' } : { kind: 'skip', left: size + (size % 2) };
    return 8;
  }

  private readSound(state: Extract<State, { kind: 'sound' }>, bytes: Uint8Array): number {
    if (!state.begun) {
      if (bytes.length < 8) return 0;
      if (this.rules.reallyEmpty(chunkId(bytes, 0))) {
        this.state = { kind: 'chunk' };
        return this.readChunkHeader(bytes);
      }
      state.begun = true;
    }
    const used = Math.min(state.left, bytes.length);
    state.left -= used;
    this.rules.sound(bytes.subarray(0, used));
    if (state.left === 0) this.state = state.size % 2 === 1 ? { kind: 'skip', left: 1 } : { kind: 'chunk' };
    return used;
  }
}

export function chunkId(bytes: Uint8Array, at: number): string {
  return String.fromCharCode(...bytes.subarray(at, at + 4));
}
