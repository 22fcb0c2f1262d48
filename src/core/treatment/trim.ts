import { number, optional } from '../parameter/parameter';
import { processor } from './processor';

const PLACE = { unit: 'ms', low: 0, high: 120_000, step: 1, fine: 0.02, digits: 2, scale: 'log' } as const;

/** Cuts a sound's start and end: for sounds that are no stretch of a recording, as the sum of layers. */
export const trim = processor({
  label: 'Start and end',
  help: 'leaves out what lies before a start and after an end',
  version: 1,
  singleSound: true,
  parameters: {
    fromMs: number({ label: 'Starts at', initial: 0, neutral: 0, ...PLACE }),
    toMs: optional({ label: 'Ends at', none: { label: 'its end', first: 500 }, ...PLACE }),
  },
  told: ({ fromMs, toMs }) => `${fromMs} ms${toMs === null ? '' : ` to ${toMs} ms`}`,
});
