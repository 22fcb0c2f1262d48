import { seededRandom } from '../core/signal/random';

/** A struck sound of the demo's own drummer; times in seconds, level 0..1. Each returns mono samples from its first frame. */
export type Voice = (sampleRate: number, level: number, seed: number) => Float32Array;

function make(seconds: number, sampleRate: number, sample: (t: number, i: number) => number): Float32Array {
  const out = new Float32Array(Math.ceil(seconds * sampleRate));
  for (let i = 0; i < out.length; i++) out[i] = sample(i / sampleRate, i);
  // The last 5 ms go down to exact zero.
  const tail = Math.round(0.005 * sampleRate);
  for (let i = 0; i < tail; i++) out[out.length - 1 - i] = ((out[out.length - 1 - i] as number) * i) / tail;
  return out;
}

/** A sine whose pitch falls exponentially from `fromHz` to `toHz`: the phase is the integral in closed form. */
function fall(t: number, fromHz: number, toHz: number, rate: number): number {
  return 2 * Math.PI * (toHz * t + ((fromHz - toHz) * (1 - Math.exp(-rate * t))) / rate);
}

/** White noise through one pole high-pass and low-pass, kept in closures so that each hit has its own grain. */
function noise(seed: number, lowCut: number, highCut: number): () => number {
  const random = seededRandom(seed);
  let low = 0;
  let high = 0;
  return () => {
    const x = random() * 2 - 1;
    low += highCut * (x - low);
    high += lowCut * (low - high);
    return low - high;
  };
}

const kick =
  (toHz: number, seconds: number): Voice =>
  (sampleRate, level, seed) => {
    const click = noise(seed, 0.3, 0.9);
    return make(
      seconds,
      sampleRate,
      (t) =>
        level *
        (0.95 * Math.sin(fall(t, toHz * 4.5, toHz, 38) + 0.6) * Math.exp((-t * 4.6) / seconds) +
          0.25 * click() * Math.exp(-t * 420)),
    );
  };

const snare =
  (bodyHz: number, decay: number): Voice =>
  (sampleRate, level, seed) => {
    const wires = noise(seed, 0.12, 0.75);
    return make(0.32, sampleRate, (t) => {
      const body =
        Math.sin(fall(t, bodyHz * 1.5, bodyHz, 60) + 0.8) + 0.6 * Math.sin(2 * Math.PI * bodyHz * 1.59 * t + 0.5);
      return level * (0.34 * body * Math.exp(-t * 22) + 0.75 * wires() * Math.exp(-t * decay));
    });
  };

/** Square-ish partials at inharmonic ratios with noise: a struck bronze plate. */
const plate =
  (seconds: number, decay: number, bright: number): Voice =>
  (sampleRate, level, seed) => {
    const hiss = noise(seed, 0.5, 0.98);
    const ratios = [1, 1.483, 1.932, 2.546, 2.63, 3.897];
    return make(seconds, sampleRate, (t) => {
      let metal = 0;
      for (const ratio of ratios) metal += Math.sign(Math.sin(2 * Math.PI * 540 * bright * ratio * t + ratio));
      return level * (0.05 * metal + 0.6 * hiss()) * Math.exp(-t * decay) * 0.8;
    });
  };

const tom =
  (hz: number): Voice =>
  (sampleRate, level, seed) => {
    const skin = noise(seed, 0.1, 0.4);
    return make(
      0.55,
      sampleRate,
      (t) =>
        level * (0.8 * Math.sin(fall(t, hz * 1.6, hz, 18) + 0.7) * Math.exp(-t * 9) + 0.2 * skin() * Math.exp(-t * 90)),
    );
  };

const clap: Voice = (sampleRate, level, seed) => {
  const hands = noise(seed, 0.15, 0.6);
  return make(0.25, sampleRate, (t) => {
    const bursts = t < 0.03 ? Math.exp(-((t * 1000) % 10) * 0.35) : 0.8 * Math.exp(-(t - 0.03) * 26);
    return level * 1.3 * hands() * bursts;
  });
};

const thud: Voice = (sampleRate, level, seed) => {
  const sack = noise(seed, 0.01, 0.06);
  return make(
    0.5,
    sampleRate,
    (t) => level * (2.4 * sack() * Math.exp(-t * 14) + 0.6 * Math.sin(fall(t, 120, 62, 30) + 0.5) * Math.exp(-t * 11)),
  );
};

const clank: Voice = (sampleRate, level, seed) => {
  const strike = noise(seed, 0.4, 0.95);
  return make(1.1, sampleRate, (t) => {
    const modes =
      Math.sin(2 * Math.PI * 823 * t + 1) * Math.exp(-t * 5) +
      0.7 * Math.sin(2 * Math.PI * 2117 * t + 1) * Math.exp(-t * 8) +
      0.5 * Math.sin(2 * Math.PI * 3571 * t) * Math.exp(-t * 13);
    return level * (0.4 * modes + 0.5 * strike() * Math.exp(-t * 160));
  });
};

const shaker: Voice = (sampleRate, level, seed) => {
  const grain = noise(seed, 0.45, 0.97);
  return make(0.14, sampleRate, (t) => level * grain() * (1 - Math.exp(-t * 500)) * Math.exp(-t * 34));
};

/** A dropped chain: link after link, each a small clank, closer and quieter. */
const chain: Voice = (sampleRate, level, seed) => {
  const random = seededRandom(seed);
  const out = new Float32Array(Math.ceil(0.95 * sampleRate));
  let at = 0;
  for (let link = 0; at < 0.5; link++) {
    const small = clank(sampleRate, level * (link === 0 ? 0.7 : 0.5 * random()) * (1 - at), seed + link);
    const start = Math.round(at * sampleRate);
    const length = Math.min(small.length, Math.round(0.25 * sampleRate), out.length - start);
    for (let i = 0; i < length; i++)
      out[start + i] = (out[start + i] as number) + (small[i] as number) * (1 - i / length);
    at += 0.02 + 0.04 * random();
  }
  return out;
};

export const VOICES = {
  kick: kick(48, 0.42),
  'soft kick': kick(58, 0.3),
  snare: snare(186, 17),
  'tight snare': snare(214, 26),
  'closed hat': plate(0.09, 62, 1),
  'open hat': plate(0.55, 7, 1),
  crash: plate(1.6, 2.6, 0.82),
  ride: plate(0.7, 6, 1.3),
  'low tom': tom(92),
  'mid tom': tom(128),
  'high tom': tom(170),
  clap,
  thud,
  clank,
  shaker,
  chain,
} as const satisfies Record<string, Voice>;
export type VoiceName = keyof typeof VOICES;

/** The family of each voice, for the truth files. */
export const VOICE_FAMILY: Readonly<Record<VoiceName, string>> = {
  kick: 'kick',
  'soft kick': 'kick',
  snare: 'snare',
  'tight snare': 'snare',
  'closed hat': 'closed hat',
  'open hat': 'open hat',
  crash: 'cymbal',
  ride: 'cymbal',
  'low tom': 'tom',
  'mid tom': 'tom',
  'high tom': 'tom',
  clap: 'clap',
  thud: 'percussion',
  clank: 'percussion',
  shaker: 'percussion',
  chain: 'effect',
};
