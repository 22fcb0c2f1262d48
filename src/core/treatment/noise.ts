import { data, number, optional } from '../parameter/parameter';
import { processor } from './processor';

/** Takes room tone, hiss and hum out of a sound, and leaves its attack. */
export const noise = processor({
  label: 'Noise reduction',
  help: 'takes room tone, hiss and hum down, by what the room sounds like; attacks stay',
  version: 2,
  parameters: {
    amountDb: number({ label: 'At most', unit: 'dB', low: 0, high: 60, step: 1, neutral: 0, initial: 18 }),
    /** More takes more of what hardly stands out of the noise. */
    marginDb: number({
      label: 'Assumed louder by',
      unit: 'dB',
      low: -6,
      high: 15,
      step: 0.5,
      initial: 2,
      bipolar: true,
    }),
    /** The noise's spectrum; where none was learnt it is told by the sound's own quietest moments. */
    room: data('Room tone', 2000),
    /** Mains hum in it: its harmonics are fitted where the room is heard alone, and subtracted. */
    humHz: optional({
      label: 'Hum',
      unit: 'Hz',
      low: 45,
      high: 65,
      step: 0.1,
      fine: 0.01,
      digits: 2,
      none: { label: 'none', first: 50 },
    }),
    /** The spectrum of the noise without the hum. */
    rest: data('Room tone without its hum', 2000),
  },
  told: ({ amountDb }) => `-${amountDb} dB`,
});
