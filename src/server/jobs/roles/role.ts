import type { Db } from '../../db/open';
import type { FromWorker, ToWorker } from '../protocol';

/** What a role works with. */
export interface Stage {
  readonly db: Db;
  /** Path of the workspace: its other files lie beside it. */
  readonly workspace: string;
  readonly say: (message: FromWorker, transfer?: ArrayBuffer[]) => void;
  /** Sends a heartbeat, for work that does not yield. */
  readonly beat: () => void;
  /** Reports that all requested work is done. */
  readonly quiet: () => void;
}

/** A role handles messages one after another. */
export type RoleOf = (message: ToWorker) => void;
