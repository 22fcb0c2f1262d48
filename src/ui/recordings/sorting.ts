import type { RecordingView } from '@/contract/views';
import { RIGHTS_LABEL } from '@/core/rights/rights';
import type { Sorters } from '../parts/listing';

/** Sort key of each column of the archive. */
export const SORTERS: Sorters<RecordingView> = {
  arrived: (r) => r.arrivedAt,
  title: (r) => r.title,
  length: (r) => r.frames / r.sampleRate,
  format: (r) => `${r.fileKind} ${r.sampleRate} ${r.validBits} ${r.channelCount}`,
  tempo: (r) => r.tempoBpm,
  taken: (r) => r.hitCount,
  rights: (r) => RIGHTS_LABEL[r.rightsKind],
};

/** Text that a search looks through. */
export function searchText(r: RecordingView): string {
  return [
    r.title,
    r.fileName,
    r.otherNames.join(' '),
    r.notes,
    r.place,
    r.madeOn,
    r.what ?? '',
    r.tags.join(' '),
    r.fileKind,
    r.rightsOwner,
    RIGHTS_LABEL[r.rightsKind],
    r.kits.join(' '),
  ].join(' ');
}
