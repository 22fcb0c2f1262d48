import type { Change, Touched } from '@/contract/edits';

/**
 * Revisions that this page's own edits lead to. A second gesture may follow before the first one is answered or drawn;
 * it still names the old revision and is rebased over the page's own edits. Edits of others are not skipped: the server
 * refuses those as stale.
 */
export class OwnRevisions {
  private readonly spans = new Map<string, { from: number; to: number }>();

  /** Changes with the revisions that the server will expect; counts them as done. */
  carryForward(changes: readonly Change[]): Change[] {
    return changes.map((change) => {
      if (change.op === 'create') return change;
      const key = `${change.doc} ${change.id}`;
      const known = this.spans.get(key);
      const ours = known !== undefined && change.rev >= known.from && change.rev <= known.to;
      const rev = ours ? known.to : change.rev;
      this.spans.set(key, { from: ours ? known.from : change.rev, to: rev + 1 });
      return { ...change, rev };
    });
  }

  /** Records the server's answer to an edit, undo or redo of this page. */
  confirm(touched: readonly Touched[]): void {
    for (const { doc, id, rev } of touched) {
      if (rev === null) continue;
      const key = `${doc} ${id}`;
      const known = this.spans.get(key);
      if (!known) this.spans.set(key, { from: rev - 1, to: rev });
      else if (rev === known.to + 1) known.to = rev;
      // A gap: someone else's edit came between, and older revisions must not be rebased over it.
      else if (rev > known.to) this.spans.set(key, { from: rev, to: rev });
    }
  }

  /** An edit was refused: forget the expected revisions; everything is fetched again. */
  forget(): void {
    this.spans.clear();
  }
}
