import { cancelledBands } from './spectrum';

const RATE = 48_000;
const tone = (hz: number, phase = 0) =>
  Float32Array.from(
    { length: RATE },
    (_, i) => 0.3 * Math.exp(-i / 9600) * Math.sin((2 * Math.PI * hz * i) / RATE + phase),
  );
const sum = (...sounds: Float32Array[]) =>
  (sounds[0] as Float32Array).map((_, i) => sounds.reduce((s, x) => s + (x[i] as number), 0));

test('a band that is turned on one side cancels in mono, another does not', () => {
  const left = sum(tone(80), tone(1000));
  const right = sum(tone(80, Math.PI), tone(1000));
  const bands = cancelledBands({ sampleRate: RATE, channels: [left, right] });
  const at = (wanted: number) => bands.find(({ hz }) => Math.abs(Math.log2(hz / wanted)) < 1 / 12)?.lossDb;
  expect(at(80)).toBeLessThan(-40);
  expect(at(1000)).toBeUndefined();
});

// |1 + exp(i phi)| / 2 = cos(phi / 2): 120 degrees apart lose 6.02 dB, 150 degrees 11.7 dB.
test('the loss is that of the formula', () => {
  const phase = (150 / 180) * Math.PI;
  const bands = cancelledBands({ sampleRate: RATE, channels: [tone(200), tone(200, phase)] });
  const at200 = bands.find(({ hz }) => Math.abs(Math.log2(hz / 200)) < 1 / 12);
  expect(Math.abs((at200?.lossDb ?? 0) - 20 * Math.log10(Math.cos(phase / 2)))).toBeLessThan(0.2);
});

test('equal sides, one side and one channel lose nothing', () => {
  const left = tone(300);
  for (const channels of [[left, left], [left, new Float32Array(RATE)], [left]])
    expect(cancelledBands({ sampleRate: RATE, channels })).toEqual([]);
});
