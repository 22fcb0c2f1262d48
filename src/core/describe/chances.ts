import type { SoundFigures } from './description';
import { DRUM_NETWORK } from './drum-weights';
import { type Chances, familyChances } from './family';
import { FAMILY_NETWORK } from './family-weights';
import { laidNetwork } from './laid-network';
import { logistic } from './network';
import { networkInputs } from './network-inputs';

/**
 * Probability, 0..1, that a sound holds a drum stroke and not only a note or an effect. The network comes from `npm run
 * train-drums`.
 */
export function drumChance(sound: SoundFigures, network = DRUM_NETWORK): number {
  return logistic(laidNetwork(network).run(networkInputs(sound))[0] as number);
}

/** Class probabilities of a sound, from that sound alone. */
export function chancesOf(sound: SoundFigures): Chances {
  return { ...familyChances(sound, FAMILY_NETWORK), drum: drumChance(sound) };
}
