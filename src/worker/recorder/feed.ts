import { SimulatedInput } from '@/core/capture/simulated';
import { QUANTUM, type SoundRing } from '@/core/capture/sound-ring';
import { Drummer } from '@/core/drummer/drummer';
import { RHYTHMS } from '@/core/drummer/rhythms';
import { atRate } from '@/core/resampling/sinc';
import { blocks, type RecordingFormat } from '../sounds';

/** An instrument or a stand-in that plays as if it were an input. */
export type FeedPlan =
  | { readonly kind: 'drummer'; readonly rhythm: number; readonly speed: number; readonly seed: number }
  | { readonly kind: 'simulated'; readonly recording: RecordingFormat; readonly seed: number };

/** What plays: the next frames of it, one channel. */
interface Source {
  read(frames: number): Float32Array;
}

/** Rendered ahead of what is heard, in seconds: what is turned is heard so much later. */
const AHEAD_S = 0.25;
/** Nothing sounds for so long at first: a room is heard before a stroke. */
const LEAD_S = 0.8;
/** A stand-in plays at most this much of its take. */
const LONGEST_S = 180;

/** Makes what an instrument plays. */
export async function openSource(plan: FeedPlan, sampleRate: number): Promise<Source> {
  if (plan.kind === 'drummer') return drummerOf(plan, sampleRate);
  const { recording, seed } = plan;
  const most = Math.min(recording.frames, LONGEST_S * recording.sampleRate);
  return new SimulatedInput(atRate(await blocks.read(recording, 0, most), sampleRate), seed);
}

function drummerOf({ rhythm, speed, seed }: FeedPlan & { kind: 'drummer' }, sampleRate: number): Drummer {
  const [first] = RHYTHMS;
  const drummer = new Drummer(RHYTHMS[rhythm] ?? (first as (typeof RHYTHMS)[number]), sampleRate, seed, LEAD_S);
  drummer.speed = speed;
  return drummer;
}

/** Keeps a ring filled with what an instrument plays. */
export class Feed {
  private constructor(
    private readonly source: Source,
    private readonly ring: SoundRing,
    private readonly ahead: number,
  ) {}

  static async open(plan: FeedPlan, ring: SoundRing, sampleRate: number): Promise<Feed> {
    return new Feed(await openSource(plan, sampleRate), ring, Math.ceil((AHEAD_S * sampleRate) / QUANTUM));
  }

  /** Turns the drummer's crank. */
  turn(speed: number): void {
    if (this.source instanceof Drummer) this.source.speed = speed;
  }

  fill(): void {
    const wanted = Math.min(this.ring.room, this.ahead - this.ring.waiting);
    if (wanted <= 0) return;
    const samples = this.source.read(wanted * QUANTUM);
    for (let n = 0; n < wanted; n++) {
      const block = samples.subarray(n * QUANTUM, (n + 1) * QUANTUM);
      this.ring.write(block, block);
    }
  }
}
