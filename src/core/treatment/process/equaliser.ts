import { type Biquad, filtered } from '../../filter/biquad';
import { bandPass, bell, butterworth, notch, shelf } from '../../filter/cookbook';
import type { equaliser as declared, Point } from '../equaliser';
import type { Process } from '../processor';

export const equaliser: Process<typeof declared.parameters> = (audio, { points }) => {
  const sections = points.flatMap((point) => sectionsOf(point, audio.sampleRate));
  if (sections.length === 0) return audio;
  return { ...audio, channels: audio.channels.map((channel) => filtered(channel, sections)) };
};

/** The filter sections of a point; none where it does nothing, as over half the sample rate. */
export function sectionsOf(point: Point, sampleRate: number): readonly Biquad[] {
  const { kind, active, frequencyHz, gainDb, widthOct, slope, steepDb } = point;
  const beyond = frequencyHz >= sampleRate / 2;
  if (!active || (beyond && kind !== 'high-pass' && kind !== 'low-shelf')) return [];
  switch (kind) {
    case 'bell':
      return gainDb === 0 ? [] : [bell(frequencyHz, gainDb, widthOct, sampleRate)];
    case 'low-shelf':
      return gainDb === 0 ? [] : [shelf(1, frequencyHz, gainDb, slope, sampleRate)];
    case 'high-shelf':
      return gainDb === 0 ? [] : [shelf(-1, frequencyHz, gainDb, slope, sampleRate)];
    case 'high-pass':
      return butterworth(-1, frequencyHz, steepDb / 6, sampleRate);
    case 'low-pass':
      return butterworth(1, frequencyHz, steepDb / 6, sampleRate);
    case 'notch':
      return [notch(frequencyHz, widthOct, sampleRate)];
    case 'band':
      return [bandPass(frequencyHz, widthOct, sampleRate)];
  }
}
