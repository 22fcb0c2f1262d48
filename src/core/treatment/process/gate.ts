import { expanderGainDb } from '../../dynamics/expand';
import { shaped } from '../../dynamics/followers';
import { fromDb } from '../../signal/units';
import type { gate as declared } from '../gate';
import type { Process } from '../processor';

export const gate: Process<typeof declared.parameters> = (audio, values) => {
  const gains = expanderGainDb(audio, values);
  return shaped(audio, (i) => fromDb(gains[i] as number));
};
