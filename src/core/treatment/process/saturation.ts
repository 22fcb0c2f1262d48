import { saturated } from '../../dynamics/saturate';
import { filtered } from '../../filter/biquad';
import { firstOrderPass } from '../../filter/cookbook';
import { fromDb } from '../../signal/units';
import type { Process } from '../processor';
import type { saturation as declared } from '../saturation';

export const saturation: Process<typeof declared.parameters> = (audio, values) => {
  const { character, driveDb, toneHz, outputDb, mix } = values;
  const gain = fromDb(outputDb);
  const dark = toneHz < audio.sampleRate / 2 ? [firstOrderPass(1, toneHz, audio.sampleRate)] : [];
  const channels = audio.channels.map((channel) => {
    const bent = filtered(saturated(channel, character, driveDb, audio.sampleRate), dark);
    return channel.map((x, i) => (1 - mix) * x + mix * gain * (bent[i] as number));
  });
  return { ...audio, channels };
};
