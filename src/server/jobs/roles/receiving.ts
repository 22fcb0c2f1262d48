import { Housekeeper } from '../../importing/housekeeper';
import { Intake } from '../../importing/intake';
import { RunningTakes } from '../../importing/takes';
import { carried } from '../carried';
import type { FromWorker } from '../protocol';
import type { RoleOf, Stage } from './role';

/** Imports files as they arrive, stores takes while they are recorded, and deletes removed recordings in between. */
export function receiving({ db, say, beat, quiet }: Stage): RoleOf {
  const imports = new Map<number, Intake>();
  const housekeeper = new Housekeeper(db, {
    beat,
    mayTidy: () => imports.size === 0 && !takes.isBusy,
    removed: (recordingId) => say({ type: 'removed', recordingId }),
    done: () => settleDown(),
  });
  const settleDown = () => {
    if (imports.size === 0 && !takes.isBusy && !housekeeper.isBusy) quiet();
  };
  const discard = (recordingId: string) => housekeeper.remove(recordingId);
  const takes = new RunningTakes(db, {
    discard,
    recovered: (recordingId) => {
      say({ type: 'recovered', recordingId });
      settleDown();
    },
  });

  /** Runs one step of an import. A failure ends only that import. */
  const step = (key: number, work: (intake: Intake) => void) => {
    const intake = imports.get(key);
    if (!intake) return;
    try {
      work(intake);
    } catch (error) {
      imports.delete(key);
      say({ type: 'import-failed', key, error: carried(error) });
    }
  };

  /** Answers a request about a take. */
  const ofTake = (key: number, answer: () => FromWorker) => {
    try {
      say(answer());
    } catch (error) {
      say({ type: 'take-failed', key, error: carried(error) });
    }
  };

  return (message) => {
    switch (message.type) {
      case 'import-begin': {
        const { key, recordingId, options, bytes } = message;
        try {
          imports.set(key, new Intake(db, recordingId, options, bytes, discard));
        } catch (error) {
          say({ type: 'import-failed', key, error: carried(error) });
        }
        break;
      }
      case 'import-bytes':
        step(message.key, (intake) => {
          intake.write(message.bytes);
          say({ type: 'taken', key: message.key });
        });
        break;
      case 'import-end':
        step(message.key, (intake) => {
          const end = intake.finish();
          imports.delete(message.key);
          if ('answer' in end) say({ type: 'imported', key: message.key, answer: end.answer });
          else say({ type: 'spooled', key: message.key, file: end.spooled });
        });
        break;
      case 'import-cancel': {
        const intake = imports.get(message.key);
        imports.delete(message.key);
        intake?.cancel();
        break;
      }
      case 'take-begin': {
        const { key, take } = message;
        ofTake(key, () => ({ type: 'take-stored', key, frames: takes.begin(take) }));
        break;
      }
      case 'take-piece': {
        const { key, id, from, bytes } = message;
        ofTake(key, () => ({ type: 'take-stored', key, frames: takes.push(id, from, bytes) }));
        break;
      }
      case 'take-end': {
        const { key, id, end } = message;
        ofTake(key, () => ({ type: 'take-ended', key, answer: takes.end(id, end) }));
        break;
      }
      case 'take-recover':
        takes.recover();
        break;
      case 'remove':
        housekeeper.remove(message.recordingId);
        break;
      case 'sweep':
        housekeeper.sweep();
        break;
      default:
        break;
    }
    housekeeper.run();
    settleDown();
  };
}
