import type { BundleOptions } from '@/core/kit/bundle';
import type { HitFileOptions } from '@/core/kit/hit-files';
import type { Db } from '../db/open';
import type { RenderStore } from '../renders/store';
import { type GroovePrint, grooveBundle } from './groove-bundle';
import { hitBundle } from './hit-bundle';
import { kitBundle } from './kit-bundle';
import type { MadeFiles } from './made-files';

/** What a zip is made of. */
export type Bundled =
  | { readonly grooveId: string; readonly kitId: string; readonly options: GroovePrint }
  | { readonly kitId: string; readonly options: Pick<BundleOptions, 'isPrivate' | 'isNumbered'> }
  | { readonly hitIds: readonly string[]; readonly options: Omit<HitFileOptions, 'isPrivate'> };

/** A zip's name and files, made as they are read; yields while sounds are rendered and peaks searched. */
export function bundledFiles(db: Db, renders: RenderStore, of: Bundled): Generator<void, MadeFiles> {
  if ('grooveId' in of) return grooveBundle(db, of.grooveId, of.kitId, of.options);
  return 'kitId' in of ? kitBundle(db, renders, of.kitId, of.options) : hitBundle(db, renders, of.hitIds, of.options);
}
