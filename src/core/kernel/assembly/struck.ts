// A stroke of the struck voice: a tone, noise, metal and a click, each with its own envelope. All functions are computed
// by the module itself, so that the same stroke is the same bytes wherever it runs.

/** Doubles of a stroke as it is asked for; see `core/voice/stroke.ts`. */
const RATE: usize = 0;
const SEED: usize = 1 << 3;
const CENTS: usize = 2 << 3;
const TONE_DB: usize = 3 << 3;
const TONE_HZ: usize = 4 << 3;
const SWEEP: usize = 5 << 3;
const SWEEP_MS: usize = 6 << 3;
const TONE_ATTACK: usize = 7 << 3;
const TONE_DECAY: usize = 8 << 3;
const RATIO: usize = 9 << 3;
const SECOND: usize = 10 << 3;
const NOISE_DB: usize = 11 << 3;
const NOISE_KIND: usize = 12 << 3;
const NOISE_HZ: usize = 13 << 3;
const NOISE_Q: usize = 14 << 3;
const NOISE_ATTACK: usize = 15 << 3;
const NOISE_DECAY: usize = 16 << 3;
const BURSTS: usize = 17 << 3;
const SPACING: usize = 18 << 3;
const METAL_DB: usize = 19 << 3;
const METAL_HZ: usize = 20 << 3;
const STRETCH: usize = 21 << 3;
const TILT: usize = 22 << 3;
const METAL_DECAY: usize = 23 << 3;
const DAMPING: usize = 24 << 3;
const CLICK_DB: usize = 25 << 3;
const CLICK_HZ: usize = 26 << 3;

/** Doubles of a stroke that sounds: where it is, then its parts. */
const FRAME: usize = 0;
/** The tone's frequency where its sweep ends, in Hz. */
const HZ: usize = 30 << 3;
const TONE_PHASE: usize = 1 << 3;
const SECOND_PHASE: usize = 2 << 3;
const SLIDE: usize = 3 << 3;
const SLIDE_STEP: usize = 4 << 3;
const TONE_AT: usize = 5 << 3;
const SECOND_AT: usize = 9 << 3;
const NOISE_AT: usize = 13 << 3;
const METAL_AT: usize = 17 << 3;
const BAND: usize = 21 << 3;
const LOW: usize = 22 << 3;
const G: usize = 23 << 3;
const DAMP: usize = 24 << 3;
const DRAWN: usize = 25 << 3;
const BURST_FALL: usize = 26 << 3;
const BURST_EVERY: usize = 27 << 3;
const CLICK_FRAMES: usize = 28 << 3;
const CLICK_GAIN: usize = 29 << 3;
const MODES_AT: usize = 32 << 3;
/** Modes of the metal: two to a vector, for each its real and imaginary part, and the turn of a frame likewise. */
export const MODES: i32 = 24;
const PAIR: usize = 8 << 3;

/** Doubles of a stroke's state. */
export function struckDoubles(): i32 {
  return 32 + 4 * MODES;
}

/** Under this a part is off. */
const OFF_DB: f64 = -60;
/** A decay's time is to a thousandth. */
const THOUSANDTH: f64 = -6.907755278982137;
/** A sweep's time is to a hundredth of it. */
const HUNDREDTH: f64 = -4.605170185988092;
/** Over this share of the rate a mode is left out. */
const HIGHEST: f64 = 0.45;
const BURST_DB: f64 = -30;

function gainOf(db: f64): f64 {
  return db <= OFF_DB ? 0 : Math.exp((db / 20) * Math.LN10);
}

/** An envelope: its gain, the frames of its attack, the fall of a frame, and what it has fallen to. */
function layEnvelope(at: usize, gain: f64, attack: f64, decay: f64): void {
  store<f64>(at, gain);
  store<f64>(at + 8, Math.round(attack));
  store<f64>(at + 16, Math.exp(THOUSANDTH / max(1, decay)));
  store<f64>(at + 24, 1);
}

function envelope(at: usize, frame: f64): f64 {
  const attack = load<f64>(at + 8);
  const gain = load<f64>(at);
  if (frame < attack) return (gain * frame) / attack;
  const level = load<f64>(at + 24);
  store<f64>(at + 24, level * load<f64>(at + 16));
  return gain * level;
}

/** A number from 0 to under 1 (mulberry32: Tommy Ettinger, public domain), of a state that is kept in a double. */
function draw(state: usize): f64 {
  const s = <u32>load<f64>(state) + 0x6d2b79f5;
  store<f64>(state, <f64>s);
  let t: u32 = s;
  t = (t ^ (t >>> 15)) * (t | 1);
  t ^= t + (t ^ (t >>> 7)) * (t | 61);
  return <f64>(t ^ (t >>> 14)) / 4294967296;
}

/** Begins a stroke. */
export function beginStruck(wanted: usize, state: usize): void {
  const rate = load<f64>(wanted, RATE);
  const perMs = rate / 1000;
  const bend = Math.exp((load<f64>(wanted, CENTS) / 1200) * Math.LN2);
  memory.fill(state, 0, (<usize>struckDoubles()) << 3);
  store<f64>(state, load<f64>(wanted, SEED), DRAWN);

  const tone = gainOf(load<f64>(wanted, TONE_DB));
  const attack = load<f64>(wanted, TONE_ATTACK) * perMs;
  const decay = load<f64>(wanted, TONE_DECAY) * perMs;
  layEnvelope(state + TONE_AT, tone, attack, decay);
  // The higher mode of a drum dies sooner than the lowest.
  layEnvelope(state + SECOND_AT, tone * load<f64>(wanted, SECOND), attack, 0.6 * decay);
  store<f64>(state, 1, SLIDE);
  store<f64>(state, Math.exp(HUNDREDTH / max(1, load<f64>(wanted, SWEEP_MS) * perMs)), SLIDE_STEP);

  layEnvelope(
    state + NOISE_AT,
    gainOf(load<f64>(wanted, NOISE_DB)),
    load<f64>(wanted, NOISE_ATTACK) * perMs,
    load<f64>(wanted, NOISE_DECAY) * perMs,
  );
  store<f64>(state, Math.tan(Math.PI * min(HIGHEST, load<f64>(wanted, NOISE_HZ) / rate)), G);
  store<f64>(state, 1 / load<f64>(wanted, NOISE_Q), DAMP);
  const every = Math.round(load<f64>(wanted, SPACING) * perMs);
  store<f64>(state, every, BURST_EVERY);
  store<f64>(state, ((BURST_DB / 20) * Math.LN10) / max(1, every), BURST_FALL);

  const click = Math.round(rate / load<f64>(wanted, CLICK_HZ));
  store<f64>(state, max(2, click), CLICK_FRAMES);
  store<f64>(state, gainOf(load<f64>(wanted, CLICK_DB)), CLICK_GAIN);

  layEnvelope(state + METAL_AT, gainOf(load<f64>(wanted, METAL_DB)), 0, 1e9);
  layModes(wanted, state, rate, bend);
  store<f64>(state, load<f64>(wanted, TONE_HZ) * bend, HZ);
}

/**
 * The modes of a free plate after Chladni's law, f in proportion to (m + 2 n)^p with m diameters and n circles (N. Fletcher,
 * T. Rossing, "The physics of musical instruments", 2nd ed. 1998, 3.5 and 20.3), each a turning vector that shrinks. No two
 * lie on one another: a worked plate is never even. Their strengths and phases are drawn.
 */
function layModes(wanted: usize, state: usize, rate: f64, bend: f64): void {
  const base = load<f64>(wanted, METAL_HZ) * bend;
  const stretch = load<f64>(wanted, STRETCH);
  const tilt = load<f64>(wanted, TILT);
  const decay = (load<f64>(wanted, METAL_DECAY) * rate) / 1000;
  const damping = load<f64>(wanted, DAMPING);
  const even = 1 / Math.sqrt(MODES / 4);
  for (let i = 0; i < MODES; i++) {
    const sum = 2 + <f64>i / 2;
    // Steps of the golden section: spread evenly, never in step.
    const off = i * 0.6180339887498949;
    const uneven = 1 + 0.05 * (off - Math.floor(off) - 0.5);
    const ratio = (sum / 2) ** stretch * uneven;
    const hz = base * ratio;
    const strength = 0.5 + draw(state + DRAWN);
    const phase = 2 * Math.PI * draw(state + DRAWN);
    const octaves = Math.log(ratio) * Math.LOG2E;
    const gain = hz > HIGHEST * rate ? 0 : even * strength * Math.exp(((tilt * octaves) / 20) * Math.LN10);
    const fall = Math.exp(THOUSANDTH / max(1, decay * Math.exp(-damping * octaves * Math.LN2)));
    const turn = (2 * Math.PI * hz) / rate;
    const at = state + MODES_AT + <usize>(i >> 1) * PAIR + ((<usize>(i & 1)) << 3);
    store<f64>(at, gain * Math.cos(phase));
    store<f64>(at + 16, gain * Math.sin(phase));
    store<f64>(at + 32, fall * Math.cos(turn));
    store<f64>(at + 48, fall * Math.sin(turn));
  }
}

/** The next `count` frames of a stroke, as floats. */
export function struckFrames(wanted: usize, state: usize, count: i32, out: usize): void {
  const rate = load<f64>(wanted, RATE);
  const sweep = load<f64>(wanted, SWEEP) / 12;
  const ratio = load<f64>(wanted, RATIO);
  const kind = load<f64>(wanted, NOISE_KIND);
  const bursts = load<f64>(wanted, BURSTS);
  const tones = load<f64>(state, TONE_AT) > 0;
  const second = load<f64>(state, SECOND_AT) > 0;
  const noise = load<f64>(state, NOISE_AT);
  const metal = load<f64>(state, METAL_AT);
  const every = load<f64>(state, BURST_EVERY);
  const burstFall = load<f64>(state, BURST_FALL);
  const clickFrames = load<f64>(state, CLICK_FRAMES);
  const click = load<f64>(state, CLICK_GAIN);
  const g = load<f64>(state, G);
  const damp = load<f64>(state, DAMP);
  const one = 1 / (1 + g * (g + damp));
  const hz = load<f64>(state, HZ) / rate;
  const slideStep = load<f64>(state, SLIDE_STEP);
  let phase = load<f64>(state, TONE_PHASE);
  let secondPhase = load<f64>(state, SECOND_PHASE);
  let slide = load<f64>(state, SLIDE);
  let band = load<f64>(state, BAND);
  let low = load<f64>(state, LOW);
  let frame = load<f64>(state, FRAME);
  for (let i = 0; i < count; i++) {
    let sum: f64 = 0;
    if (tones) {
      sum += envelope(state + TONE_AT, frame) * Math.sin(2 * Math.PI * phase);
      const step = sweep === 0 ? hz : hz * Math.exp(sweep * slide * Math.LN2);
      if (second) {
        const higher = step * ratio;
        if (higher < HIGHEST) sum += envelope(state + SECOND_AT, frame) * Math.sin(2 * Math.PI * secondPhase);
        secondPhase += higher;
        secondPhase -= Math.floor(secondPhase);
      }
      phase += step;
      phase -= Math.floor(phase);
      slide *= slideStep;
    }
    if (noise > 0) {
      // Filtered as in `filter.ts`.
      const x = 2 * draw(state + DRAWN) - 1;
      const v1 = one * (band + g * (x - low));
      const v2 = low + g * v1;
      band = 2 * v1 - band;
      low = 2 * v2 - low;
      const heard = kind === 0 ? v2 : kind === 1 ? damp * v1 : x - damp * v1 - v2;
      const last = (bursts - 1) * every;
      if (frame < last) {
        const since = frame - every * Math.floor(frame / every);
        sum += noise * heard * Math.exp(since * burstFall);
      } else sum += envelope(state + NOISE_AT, frame - last) * heard;
    }
    if (metal > 0) {
      let both = f64x2.splat(0);
      const end = state + MODES_AT + <usize>(MODES >> 1) * PAIR;
      for (let at = state + MODES_AT; at < end; at += PAIR) {
        const re = v128.load(at);
        const im = v128.load(at, 16);
        const turnRe = v128.load(at, 32);
        const turnIm = v128.load(at, 48);
        both = f64x2.add(both, im);
        v128.store(at, f64x2.sub(f64x2.mul(re, turnRe), f64x2.mul(im, turnIm)));
        v128.store(at, f64x2.add(f64x2.mul(re, turnIm), f64x2.mul(im, turnRe)), 16);
      }
      sum += metal * (f64x2.extract_lane(both, 0) + f64x2.extract_lane(both, 1));
    }
    if (frame < clickFrames && click > 0) {
      // One turn under a bell, so that it begins and ends at rest.
      const share = frame / clickFrames;
      sum += click * Math.sin(2 * Math.PI * share) * 0.5 * (1 - Math.cos(2 * Math.PI * share));
    }
    store<f32>(out + ((<usize>i) << 2), <f32>sum);
    frame += 1;
  }
  store<f64>(state, phase, TONE_PHASE);
  store<f64>(state, secondPhase, SECOND_PHASE);
  store<f64>(state, slide, SLIDE);
  store<f64>(state, band, BAND);
  store<f64>(state, low, LOW);
  store<f64>(state, frame, FRAME);
}
