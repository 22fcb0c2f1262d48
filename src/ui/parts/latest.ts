/** Runs one task at a time; of those that arrive meanwhile only the last runs next. */
export class Latest {
  private busy = false;
  private next: (() => Promise<void>) | null = null;

  constructor(private readonly failed: (error: Error) => void) {}

  run(work: () => Promise<void>): void {
    this.next = work;
    if (!this.busy) void this.go();
  }

  private async go(): Promise<void> {
    this.busy = true;
    while (this.next) {
      const work = this.next;
      this.next = null;
      try {
        await work();
      } catch (error) {
        this.failed(error as Error);
      }
    }
    this.busy = false;
  }
}
