interface Rest {
  readonly timer: ReturnType<typeof setTimeout>;
  /** What is to be run when it is over. */
  next: (() => void) | null;
}

/** Runs work at once, and again no sooner than some time later: once, for all that was asked for meanwhile under the same name. */
export class Spaced {
  private readonly resting = new Map<string, Rest>();

  constructor(private readonly restMs: number) {}

  /** `last` is run at once: no more is to come. */
  run(name: string, work: () => void, { last = false } = {}): void {
    const rest = this.resting.get(name);
    if (rest && !last) {
      rest.next = work;
      return;
    }
    if (rest) clearTimeout(rest.timer);
    const timer = setTimeout(() => {
      const next = this.resting.get(name)?.next;
      this.resting.delete(name);
      if (next) this.run(name, next);
    }, this.restMs);
    this.resting.set(name, { timer, next: null });
    work();
  }
}
