import { limited } from '../../dynamics/limit';
import { fromDb } from '../../signal/units';
import type { limiter as declared } from '../limiter';
import { amplified, type Process } from '../processor';

export const limiter: Process<typeof declared.parameters> = (audio, values) =>
  limited(amplified(audio, fromDb(values.gainDb)), values);
