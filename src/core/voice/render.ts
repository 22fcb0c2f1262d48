import { threadKernel } from '../kernel/kernel';
import { initialValues } from '../parameter/values';
import type { Audio } from '../signal/audio';
import { fromDb, toDb } from '../signal/units';
import { room } from '../treatment/process/room';
import { saturation } from '../treatment/process/saturation';
import { room as roomDeclared } from '../treatment/room';
import { saturation as saturationDeclared } from '../treatment/saturation';
import type { VoiceSettings } from './parameters';
import { strokeOf, strokeSeconds } from './stroke';

/** A stroke of the struck voice, mono, or stereo where it stands in a room. Velocity 1 to 127. */
export function renderVoice(voice: VoiceSettings, velocity: number, seed: number, sampleRate: number): Audio {
  const stroke = strokeOf(voice, velocity, seed, sampleRate);
  const frames = Math.ceil(strokeSeconds(stroke) * sampleRate);
  const kernel = threadKernel();
  const samples = kernel.within(() => {
    const wanted = kernel.lay(stroke);
    const state = kernel.run.reserve(8 * kernel.run.struckDoubles());
    const out = kernel.run.reserve(4 * frames);
    kernel.run.beginStruck(wanted, state);
    kernel.run.struckFrames(wanted, state, frames, out);
    return kernel.floats(out, frames).slice();
  });
  return placed(driven({ sampleRate, channels: [samples] }, voice), voice);
}

/** Driven through the round curve; a peak of full scale stays one. */
function driven(audio: Audio, { driveDb }: VoiceSettings): Audio {
  if (driveDb === 0) return audio;
  const outputDb = -toDb(Math.tanh(fromDb(driveDb)));
  return saturation(audio, { ...initialValues(saturationDeclared.parameters), driveDb, outputDb }, unmeasured);
}

function placed(audio: Audio, { room: mix, roomS }: VoiceSettings): Audio {
  if (mix === 0) return audio;
  return room(audio, { ...initialValues(roomDeclared.parameters), decayS: roomS, mix }, unmeasured);
}

function unmeasured(): never {
  throw new Error('Neither drive nor room asks for a level.');
}
