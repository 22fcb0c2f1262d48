import { z } from 'zod';
import { Prepare, TakeAs } from '@/contract/imports';

/** How a file is to come in. */
export const ImportOptions = z.object({
  fileName: z.string().min(1).max(1000),
  /** Where it lies on the server's machine, for files of a watched folder; empty for an upload. */
  path: z.string().max(4096).default(''),
  takeAs: TakeAs.default('recording'),
  prepare: Prepare.default([]),
});
export type ImportOptions = z.infer<typeof ImportOptions>;

/** Options of a file that simply becomes a recording. */
export function plainImport(fileName: string): ImportOptions {
  return { fileName, path: '', takeAs: 'recording', prepare: [] };
}
