interface Pause {
  readonly timer: ReturnType<typeof setTimeout>;
  /** The call to run when the pause is over. */
  next: (() => void) | null;
}

/** Throttles calls by name: the first runs at once, further ones at most once a pause, and of those only the last. */
export class Throttle {
  private readonly pauses = new Map<string, Pause>();

  constructor(private readonly pauseMs: number) {}

  /** With `last` the call runs at once, whatever the pause: no more will follow. */
  run(name: string, work: () => void, { last = false } = {}): void {
    const pause = this.pauses.get(name);
    if (pause && !last) {
      pause.next = work;
      return;
    }
    if (pause) clearTimeout(pause.timer);
    const timer = setTimeout(() => {
      const next = this.pauses.get(name)?.next;
      this.pauses.delete(name);
      if (next) this.run(name, next);
    }, this.pauseMs);
    this.pauses.set(name, { timer, next: null });
    work();
  }
}
