import type { Page } from 'playwright-core';
import { type PadSound, writeProgram } from '../../src/core/play/program';
import { Kind, newShared, PROCESSOR, programAt } from '../../src/engine/protocol';
import { RingWriter } from '../../src/engine/ring';

export interface Take {
  readonly memory: Float32Array;
  readonly sampleRate: number;
  readonly frames: number;
  readonly pads: readonly PadSound[];
  readonly records: readonly (readonly number[])[];
}

/** The shared buffers as the page's client would fill them, for `renderLive`. */
function sharedOf({ memory, pads, records }: Take): [string, Uint8Array][] {
  const shared = newShared(memory.length);
  new Float32Array(shared.memory).set(memory);
  const programs = new Float64Array(shared.programs);
  for (const [pad, sound] of pads.entries()) writeProgram(sound, programs, programAt(pad, 1));
  new Int32Array(shared.programVersions).fill(1, 0, pads.length);
  const ring = new RingWriter(shared.ring, shared.cursor);
  for (const pad of pads.keys()) ring.write(Kind.program, pad);
  for (const record of records) ring.write(...record);
  return Object.entries(shared).map(([name, buffer]) => [name, new Uint8Array(buffer)]);
}

/** Runs the shipped worklet in an offline audio context of the browser: the audio thread's own code and arithmetic. */
export async function renderLive(page: Page, take: Take): Promise<[Float32Array, Float32Array]> {
  const buffers = sharedOf(take).map(([name, bytes]) => [name, Buffer.from(bytes).toString('base64')] as const);
  const given = { buffers, frames: take.frames, sampleRate: take.sampleRate, processor: PROCESSOR };
  const channels = await page.evaluate(async (g) => {
    const shared = Object.fromEntries(
      g.buffers.map(([name, text]) => {
        const bytes = Uint8Array.from(atob(text), (c) => c.charCodeAt(0));
        const buffer = new SharedArrayBuffer(bytes.length);
        new Uint8Array(buffer).set(bytes);
        return [name, buffer];
      }),
    );
    const context = new OfflineAudioContext(2, g.frames, g.sampleRate);
    await context.audioWorklet.addModule('/engine/worklet.js');
    const options = { numberOfInputs: 0, outputChannelCount: [2], processorOptions: shared };
    new AudioWorkletNode(context, g.processor, options).connect(context.destination);
    const out = await context.startRendering();
    return [0, 1].map((c) => {
      const part = new Uint8Array(out.getChannelData(c).buffer);
      let text = '';
      for (let i = 0; i < part.length; i += 4096) text += String.fromCharCode(...part.subarray(i, i + 4096));
      return btoa(text);
    });
  }, given);
  return channels.map(floatsOf) as [Float32Array, Float32Array];
}

export function floatsOf(base64: string): Float32Array {
  const part = Buffer.from(base64, 'base64');
  return new Float32Array(part.buffer.slice(part.byteOffset, part.byteOffset + part.length));
}
