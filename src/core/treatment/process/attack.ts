import { attackAndBodyDb } from '../../dynamics/expand';
import { linear, shaped } from '../../dynamics/followers';
import type { attack as declared } from '../attack';
import type { Process } from '../processor';

export const attack: Process<typeof declared.parameters> = (audio, values) => {
  if (values.attackDb === 0 && values.bodyDb === 0) return audio;
  return shaped(audio, linear(attackAndBodyDb(audio, values)));
};
