/** Runs work at once, and again no sooner than some time later: once, for all that was asked for meanwhile under the same name. */
export class Spaced {
  /** Names whose time is not over yet, with what is to be run then. */
  private readonly resting = new Map<string, (() => void) | null>();

  constructor(private readonly restMs: number) {}

  run(name: string, work: () => void): void {
    if (this.resting.has(name)) {
      this.resting.set(name, work);
      return;
    }
    work();
    this.resting.set(name, null);
    setTimeout(() => {
      const next = this.resting.get(name);
      this.resting.delete(name);
      if (next) this.run(name, next);
    }, this.restMs);
  }
}
