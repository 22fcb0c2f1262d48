import { filled } from '../parameter/values';
import { type Audio, cut } from '../signal/audio';
import { CLICK_S } from './click-length';
import { OFF_DB, VOICE_PARAMETERS } from './parameters';
import { renderVoice } from './render';

/** The click of the metronome: short, high, and always the same. */
export function metronomeClick(sampleRate: number): Audio {
  const voice = filled(VOICE_PARAMETERS, {
    ...{ toneHz: 1600, sweep: 0, toneDecayMs: 30, clickDb: -6, clickHz: 4000, noiseDb: OFF_DB, metalDb: OFF_DB },
    ...{ levelDb: -9, softDb: 12, variation: 0 },
  });
  return cut(renderVoice(voice, 127, 1, sampleRate), 0, Math.round(CLICK_S * sampleRate));
}
