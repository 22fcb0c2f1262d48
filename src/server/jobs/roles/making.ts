import { kitBundle } from '../../exporting/kit-bundle';
import { ZipOfFiles } from '../../exporting/zip';
import { preparedChanges } from '../../hits/prepare';
import { carried } from '../carried';
import type { ToWorker } from '../protocol';
import type { RoleOf, Stage } from './role';

/** Makes bundles piece by piece as they are read, and prepares hits some at a time in between. */
export function making({ db, say, beat, quiet }: Stage): RoleOf {
  const zips = new Map<number, ZipOfFiles>();
  const preparing = new Map<number, ReturnType<typeof preparedChanges>>();

  const failing = (key: number, work: () => void) => {
    try {
      work();
    } catch (error) {
      zips.delete(key);
      preparing.delete(key);
      say({ type: 'make-failed', key, error: carried(error) });
    }
  };

  const settleDown = () => {
    if (zips.size === 0 && preparing.size === 0) quiet();
  };

  /** Prepares the next hit of a request, then lets other work have its turn. */
  const prepareNext = (key: number) => {
    const steps = preparing.get(key);
    if (!steps) return;
    failing(key, () => {
      const step = steps.next();
      beat();
      if (step.done) {
        preparing.delete(key);
        say({ type: 'prepared', key, changes: step.value });
      } else {
        say({ type: 'preparing', key, share: step.value });
        setImmediate(() => prepareNext(key));
      }
    });
    settleDown();
  };

  const hear = (message: ToWorker) => {
    switch (message.type) {
      case 'bundle': {
        const { key, kitId, options } = message;
        failing(key, () => {
          const { name, files } = kitBundle(db, kitId, options);
          const zip = new ZipOfFiles(files);
          zips.set(key, zip);
          say({ type: 'bundle-begun', key, name, bytes: zip.bytes });
        });
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
      case 'prepare':
        preparing.set(message.key, preparedChanges(db, message.request));
        prepareNext(message.key);
        break;
      case 'make-cancel':
        zips.delete(message.key);
        preparing.delete(message.key);
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
