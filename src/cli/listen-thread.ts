import { parentPort } from 'node:worker_threads';
import { detectPart } from '@/core/onset/long';
import { type HeardParts, type ListenedParts, listenedOf } from './listen';

/** A thread that listens to the parts of recordings that it is told. */
parentPort?.on('message', ({ recording, parts }: ListenedParts) => {
  const listened = listenedOf(recording);
  const found: HeardParts = parts.map((part) => [part, detectPart(listened, part)] as const);
  parentPort?.postMessage(found);
});
