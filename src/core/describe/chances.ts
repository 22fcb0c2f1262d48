import type { SoundFigures } from './description';
import { DRUM_NETWORK } from './drum-weights';
import { type Chances, familyChances } from './family';
import { FAMILY_NETWORK } from './family-weights';
import { laidNetwork } from './laid-network';
import { logistic } from './network';
import { networkInputs } from './network-inputs';

/** How likely it is, 0..1, that a drum is struck in a sound, and not a note or an effect alone; by the network of `npm run train-drums`. */
export function drumChance(sound: SoundFigures, network = DRUM_NETWORK): number {
  return logistic(laidNetwork(network).run(networkInputs(sound))[0] as number);
}

/** What a sound may be, told by listening to it alone. */
export function chancesOf(sound: SoundFigures): Chances {
  return { ...familyChances(sound, FAMILY_NETWORK), drum: drumChance(sound) };
}
