import { seededRandom } from '../signal/random';
import { runNetwork } from './network';
import { comparable, withInputs, withOdds } from './sameness';
import { SAMENESS_NETWORK } from './sameness-weights';
import { Describer } from './sound';

const RATE = 44100;
const describer = new Describer(RATE);
const chances = { main: new Float64Array(9).fill(1 / 9), contains: new Float64Array(9).fill(0.2) };

function drum(seed: number, hz: number, gain = 1) {
  const random = seededRandom(seed);
  const samples = Float32Array.from({ length: 9000 }, (_, i) => {
    const t = (i - 3000) / RATE;
    if (t < 0) return 0;
    return gain * (0.4 * Math.sin(2 * Math.PI * hz * t) + 0.3 * (random() - 0.5)) * Math.exp(-25 * t);
  });
  return comparable(describer.describe(samples, 3000, 9000), chances);
}

const sounds = [drum(1, 180), drum(1, 180, 0.5), drum(2, 420), drum(3, 60)];

test('what is told of two sounds does not depend on which comes first', () => {
  withInputs(sounds, (inputs) => {
    const [there, back] = [inputs(0, 2), inputs(2, 0)];
    for (const [i, value] of there.entries()) expect(back[i]).toBeCloseTo(value, 4);
  });
});

test('odds are what the network makes of it, worked out four by four', () => {
  const plain = withInputs(sounds, (inputs) => runNetwork(SAMENESS_NETWORK, inputs(0, 3))[0] as number);
  expect(withOdds(sounds, SAMENESS_NETWORK, (odds) => odds(0, 3))).toBeCloseTo(plain, 3);
});

test('two strokes of one sample are likelier the same drum than two drums', () => {
  withOdds(sounds, SAMENESS_NETWORK, (odds) => {
    expect(odds(0, 1)).toBeGreaterThan(1);
    expect(odds(0, 1)).toBeGreaterThan(odds(0, 2));
    expect(odds(0, 3)).toBeLessThan(-1);
  });
});
