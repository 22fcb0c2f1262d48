import { attackAndBodyDb } from '../../dynamics/expand';
import { shaped } from '../../dynamics/followers';
import { fromDb } from '../../signal/units';
import type { attack as declared } from '../attack';
import type { Process } from '../processor';

export const attack: Process<typeof declared.parameters> = (audio, values) => {
  if (values.attackDb === 0 && values.bodyDb === 0) return audio;
  const gains = attackAndBodyDb(audio, values);
  return shaped(audio, (i) => fromDb(gains[i] as number));
};
