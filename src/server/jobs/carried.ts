import { UndercroftError } from '@/core/errors';
import { isDiskFull, storageFull } from '../db/reserve';
import type { CarriedError } from './protocol';

/** Serialises an error for a message to another thread. */
export function carried(error: unknown): CarriedError {
  const told = isDiskFull(error) ? storageFull() : error;
  return told instanceof UndercroftError
    ? { code: told.code, message: told.message }
    : { code: 'internal', message: (told as Error).message };
}

export function rebuilt({ code, message }: CarriedError): Error {
  return code === 'internal' ? new Error(message) : new UndercroftError(code, message);
}
