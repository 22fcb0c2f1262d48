import { expanderGainDb } from '../../dynamics/expand';
import { linear, shaped } from '../../dynamics/followers';
import type { gate as declared } from '../gate';
import type { Process } from '../processor';

export const gate: Process<typeof declared.parameters> = (audio, values) =>
  shaped(audio, linear(expanderGainDb(audio, values)));
