import { filled } from '../parameter/values';
import type { Audio } from '../signal/audio';
import type { VoiceSource } from './key';
import { VOICE_PARAMETERS, type VoiceSettings } from './parameters';
import { renderVoice } from './render';

/** The rate at which a voice is rendered where it is the source of a hit. */
export const VOICE_RATE = 48_000;

/** All settings of a voice. */
export function settingsOf({ settings }: Pick<VoiceSource, 'settings'>): VoiceSettings {
  return filled(VOICE_PARAMETERS, settings);
}

/** The stroke itself, at `VOICE_RATE`. */
export function struckAudio(voice: VoiceSource): Audio {
  return renderVoice(settingsOf(voice), voice.velocity, voice.seed, VOICE_RATE);
}
