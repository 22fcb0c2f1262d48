import type { Change, Touched } from '@/contract/edits';

/**
 * Which revisions this page's own edits have led to. Two gestures may follow each other faster than the first one's
 * answer, or than the page is drawn anew: the second then still names the revision it saw, and is carried forward over
 * what the page did itself. What anyone else did is not stepped over: the server refuses that as stale.
 */
export class OwnRevisions {
  private readonly spans = new Map<string, { from: number; to: number }>();

  /** The changes with the revisions that they will meet at the server, counted as done. */
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

  /** What the server answered to an edit, an undo or a redo of this page. */
  confirm(touched: readonly Touched[]): void {
    for (const { doc, id, rev } of touched) {
      if (rev === null) continue;
      const key = `${doc} ${id}`;
      const known = this.spans.get(key);
      if (!known) this.spans.set(key, { from: rev - 1, to: rev });
      else if (rev === known.to + 1) known.to = rev;
      // A gap: someone else came in between, and what was seen before that is not to be carried over it.
      else if (rev > known.to) this.spans.set(key, { from: rev, to: rev });
    }
  }

  /** An edit was refused: what was counted on did not come, and everything is fetched anew. */
  forget(): void {
    this.spans.clear();
  }
}
