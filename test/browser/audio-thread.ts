import type { Page } from 'playwright-core';
import type { StepSound } from '../../src/core/live/figures';
import { programOfBus } from '../../src/core/play/limits';
import { type PadSound, SILENT, writeProgram } from '../../src/core/play/program';
import { Kind, newShared, PROCESSOR, programAt } from '../../src/engine/protocol';
import { RingWriter } from '../../src/engine/ring';

export interface Take {
  readonly memory: Float32Array;
  readonly sampleRate: number;
  readonly frames: number;
  readonly pads: readonly PadSound[];
  /** What each bus does, from the first on. */
  readonly buses?: readonly (readonly StepSound[])[];
  readonly records: readonly (readonly number[])[];
}

/** The shared buffers as the page's client would fill them, for `renderLive`. */
function sharedOf({ memory, pads, buses = [], records }: Take): [string, Uint8Array][] {
  const shared = newShared(memory.length);
  new Float32Array(shared.memory).set(memory);
  const programs = new Float64Array(shared.programs);
  const set = [
    ...pads.map((sound, pad) => [pad, sound] as const),
    ...buses.map((steps, i) => [programOfBus(i + 1), { ...SILENT, steps }] as const),
  ];
  for (const [place, sound] of set) {
    writeProgram(sound, programs, programAt(place, 1));
    new Int32Array(shared.programVersions)[place] = 1;
  }
  const ring = new RingWriter(shared.ring, shared.cursor);
  for (const [place] of set) ring.write(Kind.program, place);
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
