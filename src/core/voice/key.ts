import type { VoiceSettings } from './parameters';

/** A stroke of the struck voice as the source of a hit: settings that differ from the initial ones, seed and velocity. */
export interface VoiceSource {
  readonly settings: Partial<VoiceSettings>;
  readonly seed: number;
  readonly velocity: number;
}

/** Key of a stroke: the same for the same sound, whatever the order of its settings. */
export function voiceKey({ settings, seed, velocity }: VoiceSource): string {
  return `voice 1 ${JSON.stringify(Object.entries(settings).sort(([a], [b]) => (a < b ? -1 : 1)))} ${seed} ${velocity}`;
}

/** Whether no two strokes of a voice are the same: they are not unless that is wished. */
export function isVaried({ settings }: Pick<VoiceSource, 'settings'>): boolean {
  return settings.variation !== 0;
}
