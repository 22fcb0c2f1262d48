import type { Change } from '@/contract/edits';
import type { PrepareRequest } from '@/contract/hits';
import type { BeginTake, EndTake } from '@/contract/takes';
import type { ImportAnswer } from '@/contract/views';
import type { ErrorCode } from '@/core/errors';
import type { TreatedHit } from '@/core/hit/key';
import type { Bundled } from '../exporting/bundled';
import type { ImportOptions } from '../importing/options';
import type { SpooledFile } from '../importing/spool';
import type { JobKind } from './lease';

/** The kinds of worker threads. */
export type Role = 'import' | 'decode' | 'analyse' | 'help' | 'make' | 'render';

/** Messages from the main thread to a worker. Byte buffers are transferred. */
export type ToWorker =
  /** `analyse`: run the queued jobs. */
  | { readonly type: 'work' }
  /** `help`: describe the slices of a recording from its end backwards, until it meets the other thread. */
  | { readonly type: 'help'; readonly recordingId: string }
  /** `import`: import a file, piece by piece. */
  | {
      readonly type: 'import-begin';
      readonly key: number;
      readonly recordingId: string;
      readonly options: ImportOptions;
      readonly bytes: number | null;
    }
  | { readonly type: 'import-bytes'; readonly key: number; readonly bytes: Uint8Array }
  | { readonly type: 'import-end'; readonly key: number }
  | { readonly type: 'import-cancel'; readonly key: number }
  /** `import`: a take that is recorded, by its recording's id. */
  | { readonly type: 'take-begin'; readonly key: number; readonly take: BeginTake }
  | {
      readonly type: 'take-piece';
      readonly key: number;
      readonly id: string;
      readonly from: number;
      readonly bytes: Uint8Array;
    }
  | { readonly type: 'take-end'; readonly key: number; readonly id: string; readonly end: EndTake }
  /** `import`: end the takes whose writer went away. */
  | { readonly type: 'take-recover' }
  /** `import`: delete the rest of removed recordings and return the space. */
  | { readonly type: 'remove'; readonly recordingId: string }
  | { readonly type: 'sweep' }
  /** `decode`: decode a compressed file that was spooled beside the workspace. */
  | { readonly type: 'decode'; readonly key: number; readonly file: SpooledFile }
  | { readonly type: 'decode-cancel'; readonly key: number }
  /** `make`: work that would block requests. A bundle is made piece by piece, on request. */
  | {
      readonly type: 'bundle';
      readonly key: number;
      readonly of: Bundled;
    }
  | { readonly type: 'bundle-more'; readonly key: number }
  | { readonly type: 'prepare'; readonly key: number; readonly request: PrepareRequest }
  | { readonly type: 'make-cancel'; readonly key: number }
  /** `render`: render a hit and store the result. */
  | { readonly type: 'render'; readonly key: number; readonly hit: TreatedHit };

export interface CarriedError {
  readonly code: ErrorCode | 'internal';
  readonly message: string;
}

/** Messages about recordings that are passed on to pages. */
export type Told =
  | { readonly type: 'progress'; readonly recordingId: string; readonly progress: number }
  /** More slices of a recording have been described. */
  | { readonly type: 'described'; readonly recordingId: string }
  | { readonly type: 'removed'; readonly recordingId: string }
  /** A take was ended that nobody went on with. */
  | { readonly type: 'recovered'; readonly recordingId: string }
  | { readonly type: 'settled'; readonly kind: JobKind; readonly recordingId: string; readonly error: string | null };

export type FromWorker =
  | Told
  /** Everything asked for in the first `heard` messages is done. */
  | { readonly type: 'quiet'; readonly heard: number }
  | { readonly type: 'taken'; readonly key: number }
  | { readonly type: 'spooled'; readonly key: number; readonly file: SpooledFile }
  | { readonly type: 'decoding'; readonly key: number; readonly share: number }
  | { readonly type: 'imported'; readonly key: number; readonly answer: ImportAnswer }
  | { readonly type: 'import-failed'; readonly key: number; readonly error: CarriedError }
  /** How many frames of a take are stored. */
  | { readonly type: 'take-stored'; readonly key: number; readonly frames: number }
  | { readonly type: 'take-ended'; readonly key: number; readonly answer: ImportAnswer }
  | { readonly type: 'take-failed'; readonly key: number; readonly error: CarriedError }
  /** A thread left data of a recording that it cannot delete itself. */
  | { readonly type: 'left-over'; readonly recordingId: string }
  /** A recording has so many slices that a second thread should help, from the other end. */
  | { readonly type: 'much-to-hear'; readonly recordingId: string }
  | {
      readonly type: 'bundle-begun';
      readonly key: number;
      readonly name: string;
      readonly isPrivate: boolean;
      readonly bytes: number;
    }
  | { readonly type: 'bundle-piece'; readonly key: number; readonly bytes: Uint8Array; readonly last: boolean }
  | { readonly type: 'preparing'; readonly key: number; readonly share: number }
  | { readonly type: 'prepared'; readonly key: number; readonly changes: Change[] }
  | { readonly type: 'rendered'; readonly key: number }
  | { readonly type: 'make-failed'; readonly key: number; readonly error: CarriedError };

export interface WorkerStart {
  readonly workspace: string;
  /** Identity of the file that the server has open; see `fileAt`. */
  readonly file: string;
  readonly role: Role;
  /** The thread's heartbeat counter. */
  readonly beats: Int32Array;
  /** See `db/turns`. */
  readonly turns: Int32Array;
}
