import type { Stored } from '@/contract/documents';
import type { Pad } from '@/core/kit/model';
import { useCommands } from '../../data/commit';
import { dropDraft, setDraft } from '../../data/drafts';

export interface PadEdits {
  /** Stores fields; `said` is what the history calls them. */
  readonly set: (said: string, fields: Partial<Pad>) => void;
  /** Shows and plays fields without storing them; null gives them up. */
  readonly turn: (fields: Partial<Pad> | null) => void;
}

/** Edits of one pad. */
export function usePadEdits(pad: Stored<Pad>): PadEdits {
  const { commit } = useCommands();
  return {
    set: (said, fields) => {
      void commit(`changed the ${said} of ${pad.name}`, [
        { op: 'update', doc: 'pad', id: pad.id, rev: pad.rev, set: fields },
      ]);
      dropDraft('pad', pad.id);
    },
    turn: (fields) => (fields ? setDraft('pad', pad.id, fields) : dropDraft('pad', pad.id)),
  };
}
