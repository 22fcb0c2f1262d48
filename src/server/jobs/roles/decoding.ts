import { UndercroftError } from '@/core/errors';
import { decodeSpooled } from '../../importing/spooled';
import { carried } from '../carried';
import type { RoleOf, Stage } from './role';

/** Decodes one file after another. The receiving thread removes what a failed one left. */
export function decoding({ db, say, quiet }: Stage): RoleOf {
  let cancelled: number | null = null;
  return (message) => {
    if (message.type === 'decode-cancel') {
      cancelled = message.key;
      return;
    }
    if (message.type !== 'decode') return;
    const { key, file } = message;
    const progress = (share: number) => {
      if (cancelled === key)
        throw new UndercroftError('cancelled', 'The import was cancelled; nothing of it was kept.');
      say({ type: 'decoding', key, share });
    };
    const discard = (recordingId: string) => say({ type: 'left-over', recordingId });
    decodeSpooled(db, file, progress, discard)
      .then(
        (answer) => say({ type: 'imported', key, answer }),
        (error) => say({ type: 'import-failed', key, error: carried(error) }),
      )
      .finally(quiet);
  };
}
