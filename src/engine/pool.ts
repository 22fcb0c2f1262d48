/** A stretch of sound in the shared memory. */
export interface PoolEntry {
  readonly key: string;
  /** What it is a stretch of: a recording, or a hit as it is rendered. */
  readonly source: string;
  readonly start: number;
  readonly end: number;
  readonly left: number;
  readonly right: number;
  ready: boolean;
  /** Counts up with each use, to tell what is idle. */
  used: number;
  /** Kept while it is being filled or something plays it. */
  pins: number;
}

interface Gap {
  at: number;
  length: number;
}

/**
 * Places stretches of sound in a memory of fixed size: first fit, and when nothing fits the longest idle, unpinned
 * stretches leave. Only book-keeping: who fills the floats is the caller's business.
 */
export class SamplePool {
  private readonly entries = new Map<string, PoolEntry>();
  private gaps: Gap[];
  private uses = 0;

  constructor(private readonly floats: number) {
    this.gaps = [{ at: 0, length: floats }];
  }

  /** A ready stretch that covers [start, end) of a source, or null. */
  find(source: string, start: number, end: number): PoolEntry | null {
    for (const entry of this.entries.values()) {
      if (entry.ready && entry.source === source && entry.start <= start && entry.end >= end) {
        entry.used = ++this.uses;
        return entry;
      }
    }
    return null;
  }

  /** Reserves room, pinned once, for `sides` channels of [start, end); null when it cannot fit even with all idle stretches gone. */
  place(key: string, source: string, start: number, end: number, sides: 1 | 2): PoolEntry | null {
    const frames = end - start;
    const length = frames * sides;
    if (length > this.floats) return null;
    let at = this.take(length);
    while (at === null) {
      if (!this.dropIdlest()) return null;
      at = this.take(length);
    }
    const entry: PoolEntry = {
      key,
      source,
      start,
      end,
      left: at,
      right: sides === 2 ? at + frames : at,
      ready: false,
      used: ++this.uses,
      pins: 1,
    };
    this.entries.set(key, entry);
    return entry;
  }

  remove(key: string): void {
    const entry = this.entries.get(key);
    if (!entry) return;
    this.entries.delete(key);
    const frames = entry.end - entry.start;
    this.give({ at: entry.left, length: entry.right === entry.left ? frames : frames * 2 });
  }

  private take(length: number): number | null {
    const gap = this.gaps.find((g) => g.length >= length);
    if (!gap) return null;
    const { at } = gap;
    gap.at += length;
    gap.length -= length;
    this.gaps = this.gaps.filter((g) => g.length > 0);
    return at;
  }

  private give(gap: Gap): void {
    const all = [...this.gaps, gap].sort((a, b) => a.at - b.at);
    this.gaps = [];
    for (const next of all) {
      const last = this.gaps.at(-1);
      if (last && last.at + last.length === next.at) last.length += next.length;
      else this.gaps.push({ ...next });
    }
  }

  private dropIdlest(): boolean {
    let idlest: PoolEntry | null = null;
    for (const entry of this.entries.values()) {
      if (entry.ready && entry.pins === 0 && (!idlest || entry.used < idlest.used)) idlest = entry;
    }
    if (!idlest) return false;
    this.remove(idlest.key);
    return true;
  }
}
