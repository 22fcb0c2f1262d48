/** A stretch of sound in the shared memory. */
export interface PoolEntry {
  readonly key: string;
  /** Its source: a recording, or a rendered hit. */
  readonly source: string;
  readonly start: number;
  readonly end: number;
  readonly left: number;
  readonly right: number;
  ready: boolean;
  /** Time of last use, as a counter. */
  used: number;
  /** Number of pins: positive while it is being filled or played. */
  pins: number;
}

interface Gap {
  at: number;
  length: number;
}

/**
 * Allocates stretches in a memory of fixed size: first fit, and when nothing fits the least recently used, unpinned
 * stretches are evicted. Book-keeping only: the caller fills the floats.
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

  /**
   * Reserves room, pinned once, for `sides` channels of [start, end); null when it cannot fit even after evicting all
   * idle stretches.
   */
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
