// The inner loops of the core, compiled to WebAssembly with vector instructions by scripts/kernel.mjs. The language is
// AssemblyScript: TypeScript's syntax with machine types. What each part computes is told where it is called; pointers are bytes
// into the module's memory.

export { lowerPair, raisePair } from './allpass';
export { coherenceFigures, weighDown } from './coherence';
export { stateVariable } from './filter';
export { doubleRate, halveRate, peakOfDoubles, peaksAround } from './halfband';
export { filteredEnergies } from './loudness';
export { mark, release, reserve } from './memory';
export { novelty } from './novelty';
export { dotProduct, figureDifferences, networkOutputs, pairInputs, pairScores, zoneDifferences } from './pairs';
export { decimate, likenessAt, linePower } from './period';
export { placeFeatures, placePowers, placeScores } from './placement';
export { autocorrelation, correlations, energies, levinson, likeliestChange, residual, widen } from './prediction';
export { foldPairs, stepEnergies, stepPowers, throughPair } from './samples';
export { highest, mostSudden, plainEnergy, suddenEnergy } from './strikes';
export { beginStruck, struckDoubles, struckFrames } from './struck';
export { fillTwiddles, magnitudePair, realSpectrum, transform } from './transform';
export { mixFrames, readBetween, readBetweenMono } from './voices';
