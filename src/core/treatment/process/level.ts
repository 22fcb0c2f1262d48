import { level as declared } from '../level';
import { amplified, type Process } from '../processor';

export const level: Process<typeof declared.parameters> = (audio, values, measure) =>
  amplified(audio, declared.gain?.(() => measure(audio), values) ?? 1);
