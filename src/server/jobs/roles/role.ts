import type { Db } from '../../db/open';
import type { FromWorker, ToWorker } from '../protocol';

/** What a role has to work with. */
export interface Stage {
  readonly db: Db;
  /** Path of the workspace: what belongs to it lies beside it. */
  readonly workspace: string;
  readonly say: (message: FromWorker, transfer?: ArrayBuffer[]) => void;
  /** A sign of life, from work that gives the event loop no turn. */
  readonly beat: () => void;
  /** Says that all that was asked for is done. */
  readonly quiet: () => void;
}

/** A role hears messages, one after another. */
export type RoleOf = (message: ToWorker) => void;
