import { z } from 'zod';
import { Id } from '@/core/model';
import { DocName } from './documents';
import type { ScanProgress } from './imports';

const Fields = z.record(z.string().max(40), z.unknown());

/** One change of one document. `rev` is the revision the sender saw: any other is refused as stale. */
export const Change = z.discriminatedUnion('op', [
  z.object({ op: z.literal('create'), doc: DocName, id: Id, value: Fields }),
  z.object({ op: z.literal('update'), doc: DocName, id: Id, rev: z.number().int(), set: Fields }),
  z.object({ op: z.literal('remove'), doc: DocName, id: Id, rev: z.number().int() }),
]);
export type Change = z.infer<typeof Change>;

/** Identifies a browser: its undo reverses its own edits. */
export const Browser = z.string().regex(/^[0-9a-z-]{8,40}$/);
/** Identifies the open page, to tell its own edits from those of another tab. */
const Tab = z.string().max(40).default('');

/** Idempotency key of a request: sent again with the same key it is answered as before and not repeated. */
export const RequestKey = z
  .string()
  .regex(/^[0-9a-z-]{8,40}$/)
  .optional();

/** All changes of one gesture, committed together or not at all. */
export const EditRequest = z.object({
  browser: Browser,
  tab: Tab,
  key: RequestKey,
  label: z.string().min(1).max(200),
  changes: z.array(Change).min(1).max(20000),
});
export type EditRequest = z.input<typeof EditRequest>;

export const Touched = z.object({ doc: DocName, id: Id, rev: z.number().int().nullable(), scope: z.string() });
/** A document that changed: its new revision (null: removed), and the recording or kit whose view it belongs to. */
export type Touched = z.infer<typeof Touched>;

/** An edit that could not be undone or redone, and the reason; it stays. */
export interface Skipped {
  readonly editId: number;
  readonly label: string;
  readonly reason: string;
}

export interface EditAnswer {
  readonly editId: number;
  readonly label: string;
  readonly touched: readonly Touched[];
  /** With undo and redo: edits that were skipped, and why. */
  readonly skipped?: readonly Skipped[];
}

export const UndoRequest = z.object({
  browser: Browser,
  tab: Tab,
  key: RequestKey,
  direction: z.enum(['undo', 'redo']),
  /** This edit, whoever made it; by default the browser's last one that can be. */
  editId: z.number().int().optional(),
});

export interface HistoryEntry {
  readonly id: number;
  readonly label: string;
  readonly at: number;
  readonly state: 'done' | 'undone' | 'dropped';
  /** Made in the browser that asks. */
  readonly own: boolean;
}
export interface HistoryAnswer {
  readonly entries: readonly HistoryEntry[];
  /** The edit that redo would repeat. */
  readonly redo: string | null;
}

/** Events of the stream to every open page. */
export type ServerEvent =
  | { readonly type: 'edit'; readonly tab: string; readonly touched: readonly Touched[] }
  | { readonly type: 'recordings' }
  | { readonly type: 'hits' }
  | { readonly type: 'decoding'; readonly key: string; readonly share: number }
  | { readonly type: 'scan'; readonly scan: ScanProgress }
  /** Progress of preparing hits for a page. */
  | { readonly type: 'preparing'; readonly tab: string; readonly share: number }
  | { readonly type: 'analysis'; readonly recordingId: string; readonly progress: number }
  /** More slices of a recording have been described - all of them with `whole` - or describing failed with a reason. */
  | {
      readonly type: 'described';
      readonly recordingId: string;
      readonly whole: boolean;
      readonly error: string | null;
    };
