import { parentPort, workerData } from 'node:worker_threads';
import { never, UndercroftError } from '@/core/errors';
import { analyseRecording } from '../analysis/analyse';
import { countUnheard, describeSlices } from '../analysis/describe';
import { keepRhythm } from '../analysis/rhythm';
import { openWorkspace } from '../db/open';
import { Intake } from '../importing/intake';
import { removeRecording } from '../importing/recording-writer';
import { claimJob, hasUnhurried, type Job, LEASE_MS, queueJob, renewLease, settleJob } from './lease';
import type { CarriedError, FromWorker, ToWorker, WorkerStart } from './protocol';

/** A worker thread of the server: writes imports as they arrive, runs the jobs that wait, or helps with one, by its role. */
const { workspace } = workerData as WorkerStart;
const db = openWorkspace(workspace, { migrate: false });
/** From so many slices on a second thread is worth its start. */
const MUCH_TO_HEAR = 100;
/** What nobody waits for is done once it has been quiet so long: the page has much to do with slices that were just heard. */
const QUIET_MS = 3000;
let quiet: NodeJS.Timeout | undefined;
const imports = new Map<number, Running>();

function say(message: FromWorker): void {
  parentPort?.postMessage(message);
}

function runJobs(n: number, unhurried = false): void {
  clearTimeout(quiet);
  for (let job = claimJob(db, { unhurried }); job; job = claimJob(db, { unhurried })) {
    const error = runJob(job);
    settleJob(db, job, error);
    say({ type: 'settled', kind: job.kind, recordingId: job.recordingId, error });
  }
  if (hasUnhurried(db)) quiet = setTimeout(() => runJobs(n, true), QUIET_MS);
  else say({ type: 'idle', n });
}

function runJob(job: Job): string | null {
  const { kind, recordingId } = job;
  let renewed = Date.now();
  const renew = () => {
    if (Date.now() - renewed <= LEASE_MS / 4) return;
    renewLease(db, job);
    renewed = Date.now();
  };
  try {
    switch (kind) {
      case 'analyse':
        analyseRecording(db, recordingId, (progress) => {
          say({ type: 'progress', recordingId, progress });
          renew();
        });
        break;
      case 'describe':
        if (countUnheard(db, recordingId) >= MUCH_TO_HEAR) say({ type: 'much-to-hear', recordingId });
        describeSlices(db, recordingId, 'start', () => {
          say({ type: 'described', recordingId });
          renew();
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
}

/** Listens from the other end while the job of it runs in another thread; should this fail, that one does all. */
function help(recordingId: string): void {
  try {
    describeSlices(db, recordingId, 'end', () => say({ type: 'described', recordingId }));
  } catch (error) {
    console.error('Helping to listen failed:', error);
  }
  say({ type: 'helped' });
}

function carry(error: unknown): CarriedError {
  return error instanceof UndercroftError
    ? { code: error.code, message: error.message }
    : { code: 'internal', message: (error as Error).message };
}

/** An import under way: its steps run one after another, those of other imports in between. */
interface Running {
  readonly intake: Intake;
  queue: Promise<void>;
}

/** Runs one step of an import; a failure ends that import and no other. */
function step(key: number, work: (intake: Intake) => void | Promise<void>): void {
  const running = imports.get(key);
  if (!running) return;
  running.queue = running.queue.then(async () => {
    if (imports.get(key) !== running) return;
    try {
      await work(running.intake);
    } catch (error) {
      imports.delete(key);
      say({ type: 'import-failed', key, error: carry(error) });
    }
  });
}

function begin(message: Extract<ToWorker, { type: 'import-begin' }>): void {
  const { key, options, bytes } = message;
  try {
    const intake = new Intake(db, options, bytes, (share) => say({ type: 'decoding', key, share }));
    imports.set(key, { intake, queue: Promise.resolve() });
  } catch (error) {
    say({ type: 'import-failed', key, error: carry(error) });
  }
}

parentPort?.on('message', (message: ToWorker) => {
  const { type } = message;
  switch (type) {
    case 'work':
      runJobs(message.n);
      break;
    case 'help':
      help(message.recordingId);
      break;
    case 'import-begin':
      begin(message);
      break;
    case 'import-bytes':
      step(message.key, (intake) => {
        intake.write(message.bytes);
        say({ type: 'taken', key: message.key });
      });
      break;
    case 'import-end':
      step(message.key, async (intake) => {
        const answer = await intake.finish();
        imports.delete(message.key);
        say({ type: 'imported', key: message.key, answer });
      });
      break;
    case 'import-cancel':
      imports.get(message.key)?.intake.cancel();
      imports.delete(message.key);
      say({ type: 'cancelled', key: message.key });
      break;
    case 'remove':
      removeRecording(db, message.recordingId);
      db.pragma('incremental_vacuum');
      say({ type: 'removed', recordingId: message.recordingId });
      break;
    default:
      never(type);
  }
});
