import { createStore } from '../parts/store';

/** How much the browser is to render ahead: `quick` is under the fingers some 20 ms sooner, and crackles where the machine cannot keep up. */
export type OutputBuffer = 'steady' | 'quick';

export const OUTPUT_BUFFERS: readonly (readonly [OutputBuffer, string])[] = [
  ['steady', 'steady'],
  ['quick', 'as short as can be'],
];
const KEY = 'undercroft.output-buffer';

export const outputBuffer = createStore<OutputBuffer>('steady');

/** Takes up the browser's setting. */
export function readOutputBuffer(): OutputBuffer {
  outputBuffer.set(localStorage.getItem(KEY) === 'quick' ? 'quick' : 'steady');
  return outputBuffer.get();
}

/** Keeps the setting; a page that has begun to sound keeps the buffer it has until it is loaded again. */
export function setOutputBuffer(wanted: OutputBuffer): void {
  localStorage.setItem(KEY, wanted);
  outputBuffer.set(wanted);
}
