import { z } from 'zod';
import { Id } from '@/core/model';
import { DocName } from './documents';
import type { ScanProgress } from './imports';

const Fields = z.record(z.string().max(40), z.unknown());

/** One change of one document. `rev` is the revision that the sender saw: another one is refused as stale. */
export const Change = z.discriminatedUnion('op', [
  z.object({ op: z.literal('create'), doc: DocName, id: Id, value: Fields }),
  z.object({ op: z.literal('update'), doc: DocName, id: Id, rev: z.number().int(), set: Fields }),
  z.object({ op: z.literal('remove'), doc: DocName, id: Id, rev: z.number().int() }),
]);
export type Change = z.infer<typeof Change>;

/** Names the browser that does something: its undo reverses its own edits. */
export const Browser = z.string().regex(/^[0-9a-z-]{8,40}$/);
/** Names the open page, so that it can tell what it did itself from what another tab did. */
const Tab = z.string().max(40).default('');

/** Names a request as its sender does: sent again with the same key it is answered as before and not done twice. */
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

/** An edit that could not be undone or redone, and why; it stays as it is. */
export interface Skipped {
  readonly editId: number;
  readonly label: string;
  readonly reason: string;
}

export interface EditAnswer {
  readonly editId: number;
  readonly label: string;
  readonly touched: readonly Touched[];
  /** By undo and redo: what stood in the way of the one that was done. */
  readonly skipped?: readonly Skipped[];
}

export const UndoRequest = z.object({
  browser: Browser,
  tab: Tab,
  key: RequestKey,
  direction: z.enum(['undo', 'redo']),
  /** This edit, whoever made it; else the browser's last one that can be. */
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
  /** What would be done again first. */
  readonly redo: string | null;
}

/** What the event stream tells every open page. */
export type ServerEvent =
  | { readonly type: 'edit'; readonly tab: string; readonly touched: readonly Touched[] }
  | { readonly type: 'recordings' }
  | { readonly type: 'hits' }
  | { readonly type: 'decoding'; readonly key: string; readonly share: number }
  | { readonly type: 'scan'; readonly scan: ScanProgress }
  /** How far the hits are that a page has prepared. */
  | { readonly type: 'preparing'; readonly tab: string; readonly share: number }
  | { readonly type: 'analysis'; readonly recordingId: string; readonly progress: number }
  /** More of its slices have been listened to - all there were, where `whole` - or the listening has failed with a reason. */
  | {
      readonly type: 'described';
      readonly recordingId: string;
      readonly whole: boolean;
      readonly error: string | null;
    };
