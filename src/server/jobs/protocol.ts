import type { Change } from '@/contract/edits';
import type { PrepareRequest } from '@/contract/hits';
import type { ImportAnswer } from '@/contract/views';
import type { ErrorCode } from '@/core/errors';
import type { TreatedHit } from '@/core/hit/key';
import type { BundleOptions } from '@/core/kit/bundle';
import type { ImportOptions } from '../importing/options';
import type { SpooledFile } from '../importing/spool';
import type { JobKind } from './lease';

/** What each kind of thread is there for. */
export type Role = 'import' | 'decode' | 'analyse' | 'help' | 'make' | 'render';

/** What the server's main thread says to a worker. Byte buffers change owner with the message. */
export type ToWorker =
  /** `analyse`: run what jobs there are. */
  | { readonly type: 'work' }
  /** `help`: listen to the slices of a recording from its end, until none is left or another thread has met it. */
  | { readonly type: 'help'; readonly recordingId: string }
  /** `import`: take in a file, piece by piece. */
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
  /** `import`: take away what is left of recordings and the room they took. */
  | { readonly type: 'remove'; readonly recordingId: string }
  | { readonly type: 'sweep' }
  /** `decode`: decode a compressed file that lies beside the workspace. */
  | { readonly type: 'decode'; readonly key: number; readonly file: SpooledFile }
  | { readonly type: 'decode-cancel'; readonly key: number }
  /** `make`: what would hold up requests. A bundle is made as it is asked for, piece by piece. */
  | {
      readonly type: 'bundle';
      readonly key: number;
      readonly kitId: string;
      readonly options: Pick<BundleOptions, 'isPrivate' | 'isNumbered'>;
    }
  | { readonly type: 'bundle-more'; readonly key: number }
  | { readonly type: 'prepare'; readonly key: number; readonly request: PrepareRequest }
  | { readonly type: 'make-cancel'; readonly key: number }
  /** `render`: render a hit and keep what it comes to. */
  | { readonly type: 'render'; readonly key: number; readonly hit: TreatedHit };

export interface CarriedError {
  readonly code: ErrorCode | 'internal';
  readonly message: string;
}

/** What is told of recordings and passed on to pages. */
export type Told =
  | { readonly type: 'progress'; readonly recordingId: string; readonly progress: number }
  /** More slices of a recording have been listened to. */
  | { readonly type: 'described'; readonly recordingId: string }
  | { readonly type: 'removed'; readonly recordingId: string }
  | { readonly type: 'settled'; readonly kind: JobKind; readonly recordingId: string; readonly error: string | null };

export type FromWorker =
  | Told
  /** All is done that was asked for in the first `heard` messages. */
  | { readonly type: 'quiet'; readonly heard: number }
  | { readonly type: 'taken'; readonly key: number }
  | { readonly type: 'spooled'; readonly key: number; readonly file: SpooledFile }
  | { readonly type: 'decoding'; readonly key: number; readonly share: number }
  | { readonly type: 'imported'; readonly key: number; readonly answer: ImportAnswer }
  | { readonly type: 'import-failed'; readonly key: number; readonly error: CarriedError }
  /** Something of a recording was left by a thread that cannot take it away itself. */
  | { readonly type: 'left-over'; readonly recordingId: string }
  /** A recording has so many slices to listen to that another thread should listen from the other end. */
  | { readonly type: 'much-to-hear'; readonly recordingId: string }
  | { readonly type: 'bundle-begun'; readonly key: number; readonly name: string; readonly bytes: number }
  | { readonly type: 'bundle-piece'; readonly key: number; readonly bytes: Uint8Array; readonly last: boolean }
  | { readonly type: 'preparing'; readonly key: number; readonly share: number }
  | { readonly type: 'prepared'; readonly key: number; readonly changes: Change[] }
  | { readonly type: 'rendered'; readonly key: number }
  | { readonly type: 'make-failed'; readonly key: number; readonly error: CarriedError };

export interface WorkerStart {
  readonly workspace: string;
  /** Names the file that the server has open; see `fileAt`. */
  readonly file: string;
  readonly role: Role;
  /** Counts the thread's signs of life. */
  readonly beats: Int32Array;
  /** See `db/turns`. */
  readonly turns: Int32Array;
}
