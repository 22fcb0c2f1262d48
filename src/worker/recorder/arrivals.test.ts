import { seededRandom } from '../../core/signal/random';
import { TrackArrivals } from './arrivals';

const RATE = 44_100;
const PIECE = 441;

/** A track's data: piece `n` holds frames from `n * PIECE` on and is said to come `lateS` late. */
function piece(frame: number, lateS: number): AudioData {
  return {
    ...{ sampleRate: RATE, numberOfChannels: 2, numberOfFrames: PIECE, timestamp: 1e6 * (100 + frame / RATE + lateS) },
    copyTo: (channel: Float32Array, { planeIndex }: { planeIndex: number }) => {
      for (let i = 0; i < PIECE; i++) channel[i] = (frame + i) * (planeIndex === 0 ? 1 : -1);
    },
    close: () => {},
  } as unknown as AudioData;
}

async function arrived(pieces: readonly AudioData[]) {
  const arrivals = await TrackArrivals.open(
    new ReadableStream({
      start(controller) {
        for (const one of pieces) controller.enqueue(one);
        controller.close();
      },
    }),
  );
  await new Promise((resolve) => setTimeout(resolve, 0));
  return { arrivals, channels: arrivals.take(), lost: arrivals.takeLost() };
}

test('a track arrives whole and in order, however late its pieces are', async () => {
  const random = seededRandom(3);
  const pieces = Array.from({ length: 1000 }, (_, n) => piece(n * PIECE, random() ** 4 * 0.4));
  const { arrivals, channels, lost } = await arrived(pieces);
  expect(arrivals).toMatchObject({ sampleRate: RATE, channelCount: 2, frames: 1000 * PIECE });
  expect(channels?.[0]).toEqual(Float32Array.from({ length: 1000 * PIECE }, (_, i) => i));
  expect(channels?.[1]?.[777]).toBe(-777);
  expect(lost).toEqual([]);
});
