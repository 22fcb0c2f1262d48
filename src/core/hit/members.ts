import { withBandGains } from '../filter/crossover';
import type { LayerSound } from '../layering/layers';
import { OUT_DB } from '../layering/parameters';
import { resampled } from '../resampling/sinc';
import { type Audio, byteLength } from '../signal/audio';
import { ByteCache } from '../signal/byte-cache';
import { fromDb, pitchRatio, toDb } from '../signal/units';
import { bandLevels, memberAudioKey, memberHit, stretchesOf, type TreatedHit, type TreatedMember } from './key';
import type { Rendered, SourceOf } from './source';

type Render = (hit: TreatedHit, source: SourceOf, onStep?: () => void) => Rendered;

/** Makes the layers of layered hits and caches each before its place in the sum, so that moving one renders none. */
export class MemberSounds {
  private readonly kept: ByteCache<Audio>;

  /** Caches at most so many bytes. `render` gives a layer's hit. */
  constructor(
    mostBytes: number,
    private readonly render: Render,
  ) {
    this.kept = new ByteCache(mostBytes, byteLength);
  }

  /** Some of a layered hit's layers as they go into its sum, at the rate of its first one. */
  of(hit: TreatedHit, members: readonly TreatedMember[], source: SourceOf, onStep?: () => void): LayerSound[] {
    const first = hit.members?.[0] && stretchesOf(hit.members[0].hit)[0];
    if (!first) return [];
    const { sampleRate } = source(first);
    return members.map((member): LayerSound => {
      const { audio, gain } = this.render(memberHit(member), source, onStep);
      return {
        audio: this.shaped(member, audio, hit.edgesHz, sampleRate),
        offsetFrames: member.offsetFrames,
        levelDb: member.levelDb + toDb(gain),
        pan: member.pan,
        inverted: member.inverted,
      };
    });
  }

  /** A layer's audio at the sum's rate, tuned and in its bands. */
  private shaped(member: TreatedMember, audio: Audio, edgesHz: readonly number[], sampleRate: number): Audio {
    const key = memberAudioKey(member, edgesHz);
    const known = this.kept.get(key);
    if (known && known.sampleRate === sampleRate) return known;
    const ratio = (audio.sampleRate / sampleRate) * pitchRatio(member.semitones, member.cents);
    const { channels } = resampled(audio, ratio);
    const gains = bandLevels(member, edgesHz).map((db) => (db <= OUT_DB ? 0 : fromDb(db)));
    const inBands =
      edgesHz.length === 0 ? channels : channels.map((channel) => withBandGains(channel, edgesHz, gains, sampleRate));
    const shaped = { sampleRate, channels: inBands };
    this.kept.set(key, shaped);
    return shaped;
  }
}
