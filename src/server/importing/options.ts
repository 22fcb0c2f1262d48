import { z } from 'zod';
import { Prepare, TakeAs } from '@/contract/imports';

/** How a file is imported. */
export const ImportOptions = z.object({
  fileName: z.string().min(1).max(1000),
  /** Its path on the server's machine, for files of a watched folder; empty for an upload. */
  path: z.string().max(4096).default(''),
  takeAs: TakeAs.default('recording'),
  prepare: Prepare.default([]),
});
export type ImportOptions = z.infer<typeof ImportOptions>;

/** Options of a file that becomes a plain recording. */
export function plainImport(fileName: string): ImportOptions {
  return { fileName, path: '', takeAs: 'recording', prepare: [] };
}
