import { z } from 'zod';
import { goTogether, PREPARATIONS, type Preparation, TAKE_AS } from './taking';

export const TakeAs = z.enum(TAKE_AS);
export type TakeAs = z.infer<typeof TakeAs>;

export const Prepare = z
  .array(z.enum(PREPARATIONS))
  .max(PREPARATIONS.length)
  .refine(goTogether, 'Level goes by peak or by loudness, not both.');

/** A folder of the server's machine that can be scanned for new files. */
export const WatchRequest = z.object({ path: z.string().min(1).max(4096), takeAs: TakeAs, prepare: Prepare });
export type WatchRequest = z.infer<typeof WatchRequest>;

export interface WatchedFolder {
  readonly id: string;
  readonly path: string;
  readonly takeAs: TakeAs;
  readonly prepare: readonly Preparation[];
  readonly scannedAt: number | null;
  readonly fileCount: number;
  readonly failedCount: number;
}

/** State of a scan, from the event stream. Each failure is reported once. */
export interface ScanProgress {
  readonly folderId: string;
  readonly done: number;
  readonly total: number;
  readonly taken: number;
  readonly linked: number;
  readonly failedCount: number;
  /** Since the last report. */
  readonly failed: readonly { readonly path: string; readonly reason: string }[];
  readonly begun: boolean;
  readonly finished: boolean;
}
