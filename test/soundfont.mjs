import { readFileSync, writeFileSync } from 'node:fs';
import {
  BasicInstrument,
  BasicPreset,
  BasicSample,
  BasicSoundBank,
  GeneratorTypes,
  SampleTypes,
} from 'spessasynth_core';

/**
 * Writes a SoundFont 2 of drums, each sounding to its end, by a library that shares nothing with the project. A process of
 * its own: the library is an ECMAScript module. Arguments: a JSON file of drums (key, sampleRate, cents, perhaps filterHz, and the mono samples
 * as 32-bit floats in base64), and where the font goes.
 */
const [, , from, to] = process.argv;
const bank = new BasicSoundBank();
const instrument = new BasicInstrument();
instrument.name = 'Drums';
for (const { key, sampleRate, cents, floats, filterHz } of JSON.parse(readFileSync(from, 'utf8'))) {
  const bytes = Buffer.from(floats, 'base64');
  const samples = new Float32Array(bytes.buffer.slice(bytes.byteOffset, bytes.byteOffset + bytes.length));
  const sample = new BasicSample(`drum ${key}`, sampleRate, key, 0, SampleTypes.monoSample, 0, samples.length - 1);
  sample.setAudioData(samples, sampleRate);
  bank.addSamples(sample);
  const zone = instrument.createZone(sample);
  zone.keyRange = { min: key, max: key };
  zone.setGenerator(GeneratorTypes.overridingRootKey, key);
  zone.fineTuning = cents;
  // Absolute cents over 8.176 Hz.
  if (filterHz) zone.setGenerator(GeneratorTypes.initialFilterFc, Math.round(1200 * Math.log2(filterHz / 8.176)));
  // Twenty seconds, in timecents: what is let go sounds on.
  zone.setGenerator(GeneratorTypes.releaseVolEnv, Math.round(1200 * Math.log2(20)));
}
bank.addInstruments(instrument);
const preset = new BasicPreset(bank);
preset.name = 'Drums';
preset.isGMGSDrum = true;
preset.createZone(instrument);
bank.addPresets(preset);
// The writer stores 16 bits.
writeFileSync(to, new Uint8Array(bank.writeSF2()));
