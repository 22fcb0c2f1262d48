interface Waiting {
  readonly begin: () => Promise<void>;
}

/** Runs one task at a time; the newest waiting one goes first. */
export class NewestFirst {
  private readonly waiting: Waiting[] = [];
  private busy = false;

  run<T>(work: () => Promise<T>): Promise<T> {
    return new Promise((resolve, reject) => {
      this.waiting.push({ begin: () => work().then(resolve, reject) });
      void this.next();
    });
  }

  private async next(): Promise<void> {
    if (this.busy) return;
    const newest = this.waiting.pop();
    if (!newest) return;
    this.busy = true;
    await newest.begin();
    this.busy = false;
    void this.next();
  }
}
