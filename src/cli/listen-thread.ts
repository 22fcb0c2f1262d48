import { parentPort } from 'node:worker_threads';
import { detectOnsets } from '@/core/onset/detect';
import { detectParts, type Listening } from './listen';

/** A thread that listens to parts of recordings, as long as there are some that no other has taken. */
parentPort?.on('message', (listening: Listening) => parentPort?.postMessage(detectParts(listening)));

// While the first file is still being read there is time to have the code compiled that is to listen to it.
const RATE = 44100;
const knocks = new Float32Array(4 * RATE);
for (let i = 0; i < knocks.length; i++) knocks[i] = Math.sin(i * i) * Math.exp(-(i % 4410) / 600);
detectOnsets(knocks, RATE);
