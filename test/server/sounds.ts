import { RENDER_HEADERS } from '../../src/contract/hits';
import { resolvedHits } from '../../src/contract/resolved';
import type { HitView, ListedHit } from '../../src/contract/views';
import { audioDigest } from '../../src/core/hit/digest';
import type { TreatedHit } from '../../src/core/hit/key';
import type { Audio } from '../../src/core/signal/audio';
import { seededRandom } from '../../src/core/signal/random';
import type { Client } from './client';

/** Noise that 16-bit samples hold exactly. */
export function noise(frames: number, channelCount: number, seed: number, sampleRate: number, level = 0.5): Audio {
  const random = seededRandom(seed);
  const channels = Array.from({ length: channelCount }, () =>
    Float32Array.from({ length: frames }, () => Math.round((2 * random() - 1) * level * 32_000) / 32_768),
  );
  return { sampleRate, channels };
}

export const bytesOf = (x: Float32Array = new Float32Array(0)) => Buffer.from(x.buffer, x.byteOffset, x.byteLength);

/** Bit for bit. */
export function expectSame(found: Audio, wanted: Audio): void {
  expect(found.sampleRate).toBe(wanted.sampleRate);
  expect(found.channels.map((c) => c.length)).toEqual(wanted.channels.map((c) => c.length));
  for (const [c, channel] of wanted.channels.entries())
    expect(bytesOf(found.channels[c]).equals(bytesOf(channel))).toBe(true);
}

/** A hit of the library with everything it is made of. */
export async function hitView(client: Client, id: string): Promise<HitView> {
  const hits = resolvedHits(await client.get<ListedHit[]>('/api/hits'));
  return hits.find((hit) => hit.id === id) as HitView;
}

/** A hit's sound as the server gives it to the page. */
export async function soundOf({ address }: Client, hit: TreatedHit): Promise<Audio> {
  const answer = await fetch(`${address}/api/hits/${hit.id}/sound?digest=${await audioDigest(hit)}`);
  expect(answer.status).toBe(200);
  const floats = new Float32Array(await answer.arrayBuffer());
  const count = Number(answer.headers.get(RENDER_HEADERS.channelCount));
  const channels = Array.from({ length: count }, (_, c) => floats.filter((_x, i) => i % count === c));
  expect(channels[0]).toHaveLength(Number(answer.headers.get(RENDER_HEADERS.frames)));
  return { sampleRate: Number(answer.headers.get(RENDER_HEADERS.sampleRate)), channels };
}
