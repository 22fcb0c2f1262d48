import { never } from '@/core/errors';
import { analyseRecording } from '../../analysis/analyse';
import { countUnheard, describeSlices } from '../../analysis/describe';
import { keepRhythm } from '../../analysis/rhythm';
import { claimJob, hasUnhurried, type Job, LEASE_MS, queueJob, renewLease, settleJob } from '../lease';
import type { RoleOf, Stage } from './role';

/** From so many slices on a second thread is worth its start. */
const MUCH_TO_HEAR = 100;
/** What nobody waits for is done once it has been quiet so long: the page has much to do with slices that were just heard. */
const QUIET_MS = 3000;

/** Runs the jobs that wait, one after another. */
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

/** Listens from the other end while the job of it runs in another thread; should this fail, that one does all. */
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
