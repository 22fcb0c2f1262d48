import { openSound } from './open-sound';

const LEVEL = 0.12;
const FADE_S = 0.015;
/** Partials fall as 1/n², so that a low tone is heard on small speakers too. */
const PARTIALS = 8;

/** A steady reference tone beside all else that sounds; one a page. */
class Tone {
  private sounding: { readonly oscillator: OscillatorNode; readonly gain: GainNode } | null = null;

  async start(hz: number): Promise<void> {
    const { engine } = await openSound();
    engine.resume();
    if (this.sounding) return this.tune(hz);
    const { context } = engine;
    const oscillator = context.createOscillator();
    const sines = Float32Array.from({ length: PARTIALS + 1 }, (_, n) => (n === 0 ? 0 : 1 / n ** 2));
    oscillator.setPeriodicWave(context.createPeriodicWave(new Float32Array(PARTIALS + 1), sines));
    oscillator.frequency.value = hz;
    const gain = context.createGain();
    gain.gain.value = 0;
    gain.gain.setTargetAtTime(LEVEL, context.currentTime, FADE_S);
    oscillator.connect(gain).connect(context.destination);
    oscillator.start();
    this.sounding = { oscillator, gain };
  }

  /** Moves the tone where it sounds. */
  tune(hz: number): void {
    if (!this.sounding) return;
    const { frequency, context } = this.sounding.oscillator;
    frequency.setTargetAtTime(hz, context.currentTime, FADE_S / 3);
  }

  stop(): void {
    if (!this.sounding) return;
    const { oscillator, gain } = this.sounding;
    const { currentTime } = gain.context;
    gain.gain.setTargetAtTime(0, currentTime, FADE_S);
    oscillator.stop(currentTime + 8 * FADE_S);
    this.sounding = null;
  }
}

export const tone = new Tone();
