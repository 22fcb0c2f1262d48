/** A least-recently-used cache limited in bytes. */
export class ByteCache<T> {
  private readonly kept = new Map<string, { readonly value: T; readonly bytes: number }>();
  private bytes = 0;

  constructor(
    private readonly mostBytes: number,
    private readonly bytesOf: (value: T) => number,
  ) {}

  has(key: string): boolean {
    return this.kept.has(key);
  }

  get(key: string): T | undefined {
    const found = this.kept.get(key);
    if (!found) return undefined;
    this.kept.delete(key);
    this.kept.set(key, found);
    return found.value;
  }

  /** Stores a value, unless it alone exceeds the limit. */
  set(key: string, value: T): void {
    this.drop(key);
    const bytes = this.bytesOf(value);
    if (bytes > this.mostBytes) return;
    this.kept.set(key, { value, bytes });
    this.bytes += bytes;
    for (const old of this.kept.keys()) {
      if (this.bytes <= this.mostBytes) return;
      this.drop(old);
    }
  }

  private drop(key: string): void {
    const found = this.kept.get(key);
    if (!found) return;
    this.kept.delete(key);
    this.bytes -= found.bytes;
  }
}
