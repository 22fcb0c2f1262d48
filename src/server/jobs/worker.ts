import { parentPort, workerData } from 'node:worker_threads';
import { UndercroftError } from '@/core/errors';
import { analyseRecording } from '../analysis/analyse';
import { openWorkspace } from '../db/open';
import { RecordingWriter } from '../importing/recording-writer';
import { claimJob, type Job, LEASE_MS, renewLease, settleJob } from './lease';
import type { CarriedError, FromWorker, ToWorker, WorkerStart } from './protocol';

/** A worker thread of the server: writes imports as they arrive, or runs the jobs that wait, by its role. */
const { workspace } = workerData as WorkerStart;
const db = openWorkspace(workspace, { migrate: false });
const imports = new Map<number, RecordingWriter>();

function say(message: FromWorker): void {
  parentPort?.postMessage(message);
}

function runJobs(): void {
  for (let job = claimJob(db); job; job = claimJob(db)) {
    const error = runJob(job);
    settleJob(db, job, error);
    say({ type: 'settled', recordingId: job.recordingId, error });
  }
}

function runJob(job: Job): string | null {
  let renewed = Date.now();
  try {
    analyseRecording(db, job.recordingId, (progress) => {
      say({ type: 'progress', recordingId: job.recordingId, progress });
      if (Date.now() - renewed > LEASE_MS / 4) {
        renewLease(db, job);
        renewed = Date.now();
      }
    });
    return null;
  } catch (error) {
    return (error as Error).message;
  }
}

function carry(error: unknown): CarriedError {
  return error instanceof UndercroftError
    ? { code: error.code, message: error.message }
    : { code: 'internal', message: (error as Error).message };
}

/** Runs one step of an import; a failure ends that import and no other. */
function step(key: number, work: (writer: RecordingWriter) => void): void {
  const writer = imports.get(key);
  if (!writer) return;
  try {
    work(writer);
  } catch (error) {
    imports.delete(key);
    say({ type: 'import-failed', key, error: carry(error) });
  }
}

parentPort?.on('message', (message: ToWorker) => {
  switch (message.type) {
    case 'work':
      runJobs();
      break;
    case 'import-begin':
      try {
        imports.set(message.key, new RecordingWriter(db, message.fileName, message.bytes));
      } catch (error) {
        say({ type: 'import-failed', key: message.key, error: carry(error) });
      }
      break;
    case 'import-bytes':
      step(message.key, (writer) => {
        writer.write(message.bytes);
        say({ type: 'taken', key: message.key });
      });
      break;
    case 'import-end':
      step(message.key, (writer) => {
        const answer = writer.finish();
        imports.delete(message.key);
        say({ type: 'imported', key: message.key, answer });
      });
      break;
    case 'import-cancel':
      step(message.key, (writer) => writer.cancel());
      imports.delete(message.key);
      break;
  }
});
