import { z } from 'zod';

/** What becomes of a file: a recording to slice, a hit at once, or by its length and strikes. */
export const TakeAs = z.enum(['recording', 'hit', 'auto']);
export type TakeAs = z.infer<typeof TakeAs>;

/** What is done to hits on the way in; all of it can be taken back later. */
export const PREPARATIONS = ['dc', 'ends', 'peak', 'loudness', 'root'] as const;
export const Preparation = z.enum(PREPARATIONS);
export type Preparation = z.infer<typeof Preparation>;
export const Prepare = z
  .array(Preparation)
  .max(PREPARATIONS.length)
  .refine(
    (list) => !(list.includes('peak') && list.includes('loudness')),
    'Level goes by peak or by loudness, not both.',
  );

/** A folder of the server's machine that can be scanned again for what is new. */
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

/** How a scan stands, as the event stream tells it. What has failed is told once, as it fails. */
export interface ScanProgress {
  readonly folderId: string;
  readonly done: number;
  readonly total: number;
  readonly taken: number;
  readonly linked: number;
  readonly failedCount: number;
  /** Since it was last told. */
  readonly failed: readonly { readonly path: string; readonly reason: string }[];
  readonly begun: boolean;
  readonly finished: boolean;
}
