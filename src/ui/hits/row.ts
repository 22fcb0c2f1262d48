import type { HitView, RecordingView } from '@/contract/views';

/** A hit with its recording, as the table shows them. */
export interface HitRow extends HitView {
  readonly recording: RecordingView | undefined;
}
