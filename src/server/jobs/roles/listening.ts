import { never } from '@/core/errors';
import { analyseRecording } from '../../analysis/analyse';
import { countUnheard, describeSlices } from '../../analysis/describe';
import { keepRhythm } from '../../analysis/rhythm';
import { claimJob, hasUnhurried, type Job, LEASE_MS, queueJob, renewLease, settleJob } from '../lease';
import type { RoleOf, Stage } from './role';

/** Number of slices from which a second thread pays off. */
const MUCH_TO_HEAR = 100;
/** Delay before low-priority jobs run: the page is busy with slices that have just been described. */
const QUIET_MS = 3000;

/** Runs queued jobs, one after another. */
export function listening({ db, say, beat, quiet }: Stage): RoleOf {
  let later: NodeJS.Timeout | undefined;

  const settled = ({ kind, recordingId }: Job, error: string | null) =>
    say({ type: 'settled', kind, recordingId, error });

  const runJobs = (unhurried = false) => {
    clearTimeout(later);
    const claim = () => claimJob(db, { unhurried, gaveUp: settled });
    for (let job = claim(); job; job = claim()) {
      beat();
      const error = runJob(job);
      settleJob(db, job, error);
      settled(job, error);
    }
    if (hasUnhurried(db)) later = setTimeout(() => runJobs(true), QUIET_MS);
    else quiet();
  };

  const runJob = (job: Job): string | null => {
    const { kind, recordingId } = job;
    let renewed = Date.now();
    const goOn = () => {
      beat();
      if (Math.abs(Date.now() - renewed) <= LEASE_MS / 4) return;
      renewLease(db, job);
      renewed = Date.now();
    };
    try {
      switch (kind) {
        case 'analyse':
          analyseRecording(db, recordingId, (progress) => {
            say({ type: 'progress', recordingId, progress });
            goOn();
          });
          break;
        case 'describe':
          if (countUnheard(db, recordingId) >= MUCH_TO_HEAR) say({ type: 'much-to-hear', recordingId });
          describeSlices(db, recordingId, 'start', () => {
            say({ type: 'described', recordingId });
            goOn();
          });
          queueJob(db, 'rhythm', recordingId);
          break;
        case 'rhythm':
          keepRhythm(db, recordingId);
          break;
        default:
          never(kind);
      }
      return null;
    } catch (error) {
      return (error as Error).message;
    }
  };

  return (message) => {
    if (message.type === 'work') runJobs();
  };
}

/** Describes slices from the end while another thread runs the job from the start. If this thread fails, that one does it all. */
export function helping({ db, say, beat, quiet }: Stage): RoleOf {
  return (message) => {
    if (message.type !== 'help') return;
    const { recordingId } = message;
    beat();
    try {
      describeSlices(db, recordingId, 'end', () => {
        say({ type: 'described', recordingId });
        beat();
      });
    } catch (error) {
      console.error('Helping to listen failed:', error);
    }
    quiet();
  };
}
