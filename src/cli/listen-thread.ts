import { parentPort } from 'node:worker_threads';
import { detectOnsets } from '@/core/onset/detect';
import { detectParts, type Listening } from './listen';

/** A thread that analyses parts of recordings until none are left. */
parentPort?.on('message', (listening: Listening) => parentPort?.postMessage(detectParts(listening)));

// While the first file is still being read, the analysis code is compiled.
const RATE = 44100;
const knocks = new Float32Array(4 * RATE);
for (let i = 0; i < knocks.length; i++) knocks[i] = Math.sin(i * i) * Math.exp(-(i % 4410) / 600);
detectOnsets(knocks, RATE);
