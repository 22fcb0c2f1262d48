import type { ImportAnswer } from '@/contract/views';
import type { ErrorCode } from '@/core/errors';
import type { ImportOptions } from '../importing/options';
import type { JobKind } from './lease';

/** What the server's main thread says to its worker. Byte buffers change owner with the message. */
export type ToWorker =
  /** Run what jobs there are; `n` counts how often that was said. */
  | { readonly type: 'work'; readonly n: number }
  /** Listen to the slices of a recording from its end, until none is left or another thread has met it. */
  | { readonly type: 'help'; readonly recordingId: string }
  | {
      readonly type: 'import-begin';
      readonly key: number;
      readonly options: ImportOptions;
      readonly bytes: number | null;
    }
  | { readonly type: 'import-bytes'; readonly key: number; readonly bytes: Uint8Array }
  | { readonly type: 'import-end'; readonly key: number }
  | { readonly type: 'import-cancel'; readonly key: number }
  | { readonly type: 'remove'; readonly recordingId: string };

export interface CarriedError {
  readonly code: ErrorCode | 'internal';
  readonly message: string;
}

export type FromWorker =
  | { readonly type: 'taken'; readonly key: number }
  | { readonly type: 'decoding'; readonly key: number; readonly share: number }
  | { readonly type: 'removed'; readonly recordingId: string }
  | { readonly type: 'cancelled'; readonly key: number }
  /** There were no more jobs when the n-th word to run them had been heard. */
  | { readonly type: 'idle'; readonly n: number }
  | { readonly type: 'imported'; readonly key: number; readonly answer: ImportAnswer }
  | { readonly type: 'import-failed'; readonly key: number; readonly error: CarriedError }
  | { readonly type: 'progress'; readonly recordingId: string; readonly progress: number }
  /** A recording has so many slices to listen to that another thread should listen from the other end. */
  | { readonly type: 'much-to-hear'; readonly recordingId: string }
  | { readonly type: 'helped' }
  /** More slices of a recording have been listened to. */
  | { readonly type: 'described'; readonly recordingId: string }
  | {
      readonly type: 'settled';
      readonly kind: JobKind;
      readonly recordingId: string;
      readonly error: string | null;
    };

export interface WorkerStart {
  readonly workspace: string;
  readonly role: 'import' | 'analyse' | 'help';
}
