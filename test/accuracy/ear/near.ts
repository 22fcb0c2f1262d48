import FFT from 'fft.js';
import { namedSounds, type OneShot, oneShots, REPORT_KITS, TUNING_KITS } from './percussion';

/** From this correlation on two beginnings are one recording, however it was cut and scaled; unlike sounds stay under 0.9. */
const ONE_RECORDING = 0.97;
const SIZE = 8192;

/**
 * Sounds that were learnt from and are in the report as well, though cut otherwise than hashes of samples would tell: by the highest
 * normalised cross-correlation of their first 93 ms, at any shift up to that.
 */
export function nearTwins(folder: string): string[] {
  const fft = new FFT(SIZE);
  const spectrumOf = ({ samples }: OneShot) => {
    const input = fft.createComplexArray();
    let energy = 0;
    for (let i = 0; i < Math.min(SIZE / 2, samples.length); i++) {
      input[2 * i] = samples[i] as number;
      energy += (samples[i] as number) ** 2;
    }
    for (let i = Math.min(SIZE / 2, samples.length); i < SIZE; i++) input[2 * i] = 0;
    for (let i = 0; i < SIZE; i++) input[2 * i + 1] = 0;
    const out = fft.createComplexArray();
    fft.transform(out, input);
    return { values: Float64Array.from(out), energy };
  };
  const reported = oneShots(REPORT_KITS, [110], folder).map((shot) => ({ shot, spectrum: spectrumOf(shot) }));
  const learnt = [
    ...oneShots(
      TUNING_KITS.filter(({ name }) => name !== 'takes'),
      [120],
      folder,
    ),
    ...namedSounds(),
  ];
  const product = fft.createComplexArray();
  const correlation = fft.createComplexArray();
  const twins: string[] = [];
  for (const own of learnt) {
    const a = spectrumOf(own);
    for (const { shot, spectrum: b } of reported) {
      for (let k = 0; k < 2 * SIZE; k += 2) {
        const [ar, ai] = [a.values[k] as number, a.values[k + 1] as number];
        const [br, bi] = [b.values[k] as number, b.values[k + 1] as number];
        product[k] = ar * br + ai * bi;
        product[k + 1] = ai * br - ar * bi;
      }
      fft.inverseTransform(correlation, product);
      let most = 0;
      for (let k = 0; k < 2 * SIZE; k += 2) most = Math.max(most, Math.abs(correlation[k] as number));
      if (most > ONE_RECORDING * Math.sqrt(a.energy * b.energy))
        twins.push(`${own.kit} key ${own.key} is ${shot.kit} key ${shot.key}`);
    }
  }
  return twins;
}
