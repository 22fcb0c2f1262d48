import { seededRandom } from '../../src/core/signal/random';
import { DEVICE_RATE, microphone, samplesOf, takesOf, writeMicrophone } from '../browser/microphone';
import { begin, demoWorkspace, soon } from '../harness';
import type { Row } from './rows';

const MINUTES = 10;
const NOISE_S = 7;
/** Half a step of 16 bits. */
const SAME = 2 ** -16;
/** The device may have to settle for so long. */
const SETTLED_S = 1;

/** Ten minutes from a microphone while the interface is worked in: every frame is compared with what the device played. */
export async function recordingRows(folder: string): Promise<Row[]> {
  const random = seededRandom(4);
  const noise = Float32Array.from({ length: NOISE_S * DEVICE_RATE }, () => 0.2 * (random() - 0.5));
  const { path, audio } = writeMicrophone(folder, [noise, noise]);
  const session = await begin(demoWorkspace, microphone(path));
  const { page } = session;
  try {
    await page.goto(`${session.server.address}/record`);
    const record = page.getByRole('button', { name: 'Record', exact: true });
    await soon(() => record.click());
    for (const end = Date.now() + 60_000 * MINUTES; Date.now() < end; )
      for (const place of ['Kits', 'Grooves', 'Hits', 'Recordings', 'Record'])
        await page.getByRole('link', { name: place, exact: true }).click();
    await page.getByRole('button', { name: /^Stop/ }).click();
    await page.locator('[data-take]').first().waitFor();
    const [take] = takesOf(session);
    if (!take) throw new Error('The take is not there.');
    const [left] = samplesOf(session, take) as [Float32Array];
    const breaks = breaksIn(left.subarray(SETTLED_S * DEVICE_RATE), audio.channels[0] as Float32Array);
    return [
      {
        what: `${(left.length / DEVICE_RATE / 60).toFixed(1)} min from a microphone under interface load`,
        figure: `${breaks} gaps or repeats`,
        beside: `told by the take: ${take.warnings}`,
        floor: 'none',
        met: breaks === 0,
      },
    ];
  } finally {
    await session.end();
  }
}

/** How often what was recorded does not go on in the loop as it did. */
function breaksIn(samples: Float32Array, loop: Float32Array): number {
  const step = (x: number | undefined) => Math.round((x ?? 0) * 32768);
  const key = (list: Float32Array, i: number) => [0, 1, 2].map((k) => step(list[(i + k) % list.length])).join(' ');
  const places = new Map<string, number>();
  for (let i = 0; i < loop.length; i++) places.set(key(loop, i), i);
  let offset: number | null = null;
  let breaks = -1;
  for (let i = 0; i < samples.length - 3; i++) {
    if (offset !== null && Math.abs((samples[i] as number) - (loop[(i + offset) % loop.length] as number)) < SAME)
      continue;
    // What is unknown belongs to the break before it.
    if (offset !== null || breaks < 0) breaks++;
    const at = places.get(key(samples, i));
    offset = at === undefined ? null : (at - i + 1e6 * loop.length) % loop.length;
  }
  return breaks;
}
