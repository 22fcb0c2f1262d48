import { execFileSync } from 'node:child_process';

/** Settings of aubio's onset tool that are tried on the tuning set; the best of them is shown beside the default. */
export const AUBIO_SETTINGS: readonly { name: string; args: readonly string[] }[] = [
  { name: 'aubio default', args: [] },
  ...['hfc', 'complex', 'specflux', 'energy'].flatMap((method) =>
    ['0.2', '0.3', '0.5', '0.8'].flatMap((threshold) =>
      ['128', '256'].map((hop) => ({
        name: `aubio ${method} ${threshold} hop ${hop}`,
        args: ['-O', method, '-t', threshold, '-B', String(Number(hop) * 4), '-H', hop, '-M', '0.02'],
      })),
    ),
  ),
];

/** Onsets in seconds as aubio's onset tool (Debian package aubio-tools) prints them. */
export function aubioOnsets(wavPath: string, args: readonly string[]): number[] {
  const out = execFileSync('aubioonset', ['-r', '0', ...args, wavPath], {
    encoding: 'utf8',
    stdio: ['ignore', 'pipe', 'ignore'],
  });
  return out.split('\n').filter(Boolean).map(Number);
}
