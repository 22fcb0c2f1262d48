import type { Joined, Sureness } from './sureness';

/** Of sounds by themselves: learnt by `npm run train-sureness` from 2171 sounds of the tuning kits; not written by hand. */
// biome-ignore format: a table of figures
export const SURE_ALONE: Sureness = [[0.3639, 0.2619], [0.4883, 0.5000], [0.6007, 0.5854], [0.7016, 0.6235], [0.7962, 0.7073], [0.8284, 0.7143], [0.8512, 0.9024], [0.9227, 0.9378], [0.9612, 0.9524], [0.9843, 0.9947]];

/** Of slices among others of a recording: from these and 9663 slices of loops of the tuning kits, half and half. */
// biome-ignore format: a table of figures
export const SURE_AMONG: Sureness = [[0.3522, 0.4613], [0.4521, 0.6655], [0.5005, 0.6788], [0.5389, 0.7387], [0.6160, 0.7952], [0.6925, 0.8307], [0.7757, 0.8769], [0.8311, 0.8817], [0.8384, 0.9262], [0.8551, 0.9278], [0.8720, 0.9356], [0.8962, 0.9515], [0.9408, 0.9558], [0.9575, 0.9559], [0.9607, 0.9748], [0.9835, 0.9952]];

/** How that is joined with how likely a drum is heard: from all these and 3407 slices of songs, which count as much as the loops. */
export const AMONG_JOINED: Joined = {
  family: 0.8573,
  drum: 0.8555,
  offset: -4.8869,
};
