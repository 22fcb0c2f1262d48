import type { RecordingView } from '@/contract/views';
import { HIT_INITIAL } from '@/core/hit/initial';
import type { TreatedHit } from '@/core/hit/key';
import { newStep, type Step } from '@/core/treatment/step';
import type { EngineClient } from '@/engine/client';
import { Audition } from './audition';
import { Samples } from './samples';

const RATE = 1000;
const recording = { id: 'rec-000001', sampleRate: RATE, channelCount: 1, frames: 60_000 } as RecordingView;

function hitOf(...steps: Step[]): TreatedHit {
  const place = { recordingId: recording.id, startFrame: 0, endFrame: 20_000, sliceId: null };
  return { ...HIT_INITIAL, ...place, id: 'hit-000001', name: 'x', family: null, steps };
}

function step(processor: 'level' | 'reverse', values = {}): Step {
  return { ...newStep('hit-000001', processor, 0, values), id: `step-${processor}` };
}

/** A worker that lays nothing, and answers when it is let. */
function fakeWorker() {
  const waiting: (() => void)[] = [];
  const wait = () => new Promise<void>((resolve) => waiting.push(resolve));
  const rendered: string[] = [];
  return {
    rendered,
    go: () => {
      for (const resolve of waiting.splice(0)) resolve();
    },
    load: wait,
    render: async ({ id }: TreatedHit) => {
      rendered.push(id);
      return { key: id, frames: 20_000, sides: 1, gain: 0.25 };
    },
    lay: async () => true,
  };
}

test('what is leased or still being filled is never given to another sound, however many are asked for at once', async () => {
  const worker = fakeWorker();
  const samples = new Samples(1000, worker as never);
  const both = [samples.stretch(recording, 0, 400), samples.stretch(recording, 0, 400)];
  const other = samples.stretch(recording, 500, 900);
  // No room is left, and nothing may leave: all of it is on its way.
  await expect(samples.stretch(recording, 1000, 1400)).rejects.toThrow(/no room/);
  worker.go();
  const [first, second, third] = await Promise.all([...both, other]);
  if (!first || !second || !third) throw new Error('It was not leased.');
  expect(first.entry).toBe(second.entry);
  first.release();
  first.release();
  await expect(samples.stretch(recording, 1000, 1400)).rejects.toThrow(/no room/);
  second.release();
  const instead = samples.stretch(recording, 1000, 1400);
  worker.go();
  expect((await instead).entry.left).toBe(first.entry.left);
  expect(samples.find(recording, 500, 900)?.entry).toBe(third.entry);
});

describe('a hit that is listened to sounds as it is treated, also over the 12 s from which recordings are played in parts', () => {
  const listen = async (hit: TreatedHit) => {
    const worker = fakeWorker();
    const gains: number[] = [];
    const engine = {
      sampleRate: RATE,
      frame: 0,
      resume() {},
      stop() {},
      stopScore() {},
      strike: () => 1,
      setPad: (_: number, { layers }: { layers: readonly { gain: number }[] }) => gains.push(layers[0]?.gain ?? 0),
    };
    const audition = new Audition(engine as unknown as EngineClient, new Samples(100_000, worker as never));
    const playing = audition.play({ recording, startFrame: 0, endFrame: 20_000, hit });
    await new Promise((resolve) => setImmediate(resolve));
    worker.go();
    await new Promise((resolve) => setImmediate(resolve));
    audition.stop();
    await playing;
    return { gains, rendered: worker.rendered };
  };

  test('one that is rendered is played whole', async () => {
    expect(await listen(hitOf(step('reverse')))).toEqual({ gains: [0.25], rendered: ['hit-000001'] });
  });

  test('one that is only levelled is played in parts, at its level', async () => {
    const { gains, rendered } = await listen(hitOf(step('level', { to: 'gain', gainDb: -20 })));
    expect(rendered).toEqual([]);
    expect(gains[0]).toBeCloseTo(0.1, 12);
  });
});
