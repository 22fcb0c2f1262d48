import type { BundleFile } from '@/core/kit/bundle';

/** The files of a zip, made as they are read. */
export interface MadeFiles {
  readonly name: string;
  /** It holds what may not be passed on. */
  readonly isPrivate: boolean;
  readonly files: readonly BundleFile[];
  /** The first file alone is wanted, as it is. */
  readonly isBare?: boolean;
}
