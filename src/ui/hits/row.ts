import type { HitView, RecordingView } from '@/contract/views';
import type { RightsFields } from '@/core/rights/rights';

/** A hit with its recording, as the table shows them. */
export interface HitRow extends HitView {
  readonly recording: RecordingView | undefined;
  /** All it is made of came with the application. */
  readonly supplied: boolean;
  /** Of everything it is made of. */
  readonly rights: RightsFields | undefined;
}
