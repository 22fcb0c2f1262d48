import { bundledFiles } from '../../exporting/bundled';
import { BareFile, ZipOfFiles } from '../../exporting/zip';
import { preparedChanges } from '../../hits/prepare';
import { RenderStore } from '../../renders/store';
import { carried } from '../carried';
import type { ToWorker } from '../protocol';
import type { RoleOf, Stage } from './role';

/** Makes bundles piece by piece as they are read, and prepares hits one at a time in between. */
export function making({ db, workspace, say, beat, quiet }: Stage): RoleOf {
  const renders = RenderStore.of(workspace);
  const zips = new Map<number, ZipOfFiles | BareFile>();
  /** Work by key, run step by step; a step returns whether there is another one. */
  const working = new Map<number, () => boolean>();

  const failing = (key: number, work: () => void) => {
    try {
      work();
    } catch (error) {
      zips.delete(key);
      working.delete(key);
      say({ type: 'make-failed', key, error: carried(error) });
    }
  };

  const settleDown = () => {
    if (zips.size === 0 && working.size === 0) quiet();
  };

  /** Runs the next step of a piece of work, then yields to other work. */
  const stepOn = (key: number) => {
    const work = working.get(key);
    if (!work) return;
    failing(key, () => {
      beat();
      if (work()) setImmediate(() => stepOn(key));
      else working.delete(key);
    });
    settleDown();
  };

  /** Runs a generator step by step and passes its result to `done`. */
  const run = <S, T>(key: number, steps: Generator<S, T>, step: (value: S) => void, done: (value: T) => void) => {
    working.set(key, () => {
      const next = steps.next();
      if (next.done) done(next.value);
      else step(next.value);
      return !next.done;
    });
    stepOn(key);
  };

  const hear = (message: ToWorker) => {
    switch (message.type) {
      case 'bundle': {
        const { key, of } = message;
        run(
          key,
          bundledFiles(db, renders, of),
          () => {},
          ({ name, isPrivate, files, isBare }) => {
            const zip = isBare && files[0] ? new BareFile(files[0]) : new ZipOfFiles(files);
            zips.set(key, zip);
            say({ type: 'bundle-begun', key, name, isPrivate, bytes: zip.bytes });
          },
        );
        break;
      }
      case 'bundle-more': {
        const { key } = message;
        const zip = zips.get(key);
        if (!zip) break;
        failing(key, () => {
          const { bytes, last } = zip.next();
          if (last) zips.delete(key);
          say({ type: 'bundle-piece', key, bytes, last }, [bytes.buffer]);
        });
        break;
      }
      case 'prepare': {
        const { key, request } = message;
        run(
          key,
          preparedChanges(db, request),
          (share) => say({ type: 'preparing', key, share }),
          (changes) => say({ type: 'prepared', key, changes }),
        );
        break;
      }
      case 'make-cancel':
        zips.delete(message.key);
        working.delete(message.key);
        break;
      default:
        break;
    }
  };

  return (message) => {
    hear(message);
    settleDown();
  };
}
