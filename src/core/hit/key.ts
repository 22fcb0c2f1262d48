import type { Member } from '../layering/model';
import { MEMBER_PARAMETERS } from '../layering/parameters';
import { sparse } from '../parameter/values';
import type { Measured } from '../treatment/processor';
import { processorOf } from '../treatment/processors';
import { type Step, stepKey, valuesOf } from '../treatment/step';
import { voiceKey } from '../voice/key';
import type { Hit } from './model';

/** A hit with its steps, in order. */
export interface TreatedHit extends Hit {
  /** The steps of its recording; absent where there are none. */
  readonly inherited?: readonly Step[];
  readonly steps: readonly Step[];
  /** The layers whose sum it is, in order; absent or empty where it is a stretch of its recording. */
  readonly members?: readonly TreatedMember[];
}

/** A layer of a layered hit, with what sounds. */
export interface TreatedMember extends Member {
  readonly steps: readonly Step[];
  readonly hit: TreatedHit;
}

/** Whether a hit is the sum of layers. */
export function isLayered({ members = [] }: Pick<TreatedHit, 'members'>): boolean {
  return members.length > 0;
}

/** The layers that are heard: those that are alone where any is, otherwise those that are not muted. */
export function heardMembers<M extends Pick<Member, 'alone' | 'muted'>>(members: readonly M[]): readonly M[] {
  const isAnyAlone = members.some(({ alone }) => alone);
  return members.filter(({ alone, muted }) => (isAnyAlone ? alone : !muted));
}

/** A layer's hit as this layer plays it, before it is tuned: what the layer does comes after what the hit does. */
export function memberHit({ hit, steps }: Pick<TreatedMember, 'hit' | 'steps'>): TreatedHit {
  return steps.length === 0 ? hit : { ...hit, inherits: true, inherited: wholeChain(hit), steps };
}

/** All that is done to a hit: what it inherits, then its own steps. */
export function wholeChain({ inherits, inherited = [], steps }: TreatedHit): readonly Step[] {
  return inherits && inherited.length > 0 ? [...inherited, ...steps] : steps;
}

/** The stretches of recordings that a hit is made of: its own, or those of its layers at any depth. */
export function stretchesOf(hit: TreatedHit): readonly Hit[] {
  return isLayered(hit) ? (hit.members ?? []).flatMap((member) => stretchesOf(member.hit)) : [hit];
}

/** The recordings a hit is made of, each once: they decide its rights, its lineage, and what may be removed. */
export function recordingsOf(hit: TreatedHit): readonly string[] {
  return [...new Set(stretchesOf(hit).map(({ recordingId }) => recordingId))];
}

/** The active steps that change the audio, and the ones after them that only change the level. */
export function parted(hit: TreatedHit): {
  readonly shaping: readonly Step[];
  readonly levelling: readonly Step[];
} {
  const active = wholeChain(hit).filter((step) => step.active);
  const last = active.findLastIndex((step) => !processorOf(step.processor).gain);
  return { shaping: active.slice(0, last + 1), levelling: active.slice(last + 1) };
}

/** Whether a hit's audio equals the stretch of its recording, apart from a gain: no stroke of a voice, no sum of layers. */
export function isPlain(hit: TreatedHit): boolean {
  return !isLayered(hit) && !hit.voice && parted(hit).shaping.length === 0;
}

const NOTHING_MEASURED: Measured = { peak: 1, truePeak: 1, momentaryLufs: 0, rms: 1, noiseDbfs: 0 };

/** The gain of a plain hit, where it is known without measuring the audio; null otherwise. */
export function plainGain(hit: TreatedHit): number | null {
  if (!isPlain(hit)) return null;
  let isMeasured = false;
  const gain = levelOf(parted(hit).levelling, () => {
    isMeasured = true;
    return NOTHING_MEASURED;
  });
  return isMeasured ? null : gain;
}

/** Key of a hit's audio, whatever its gain: renders are stored under it. */
export function audioKey(hit: TreatedHit): string {
  return [sourceKey(hit), ...parted(hit).shaping.map(stepKey)].join(' ');
}

/** Key of a hit's source: its audio before any step. */
export function sourceKey(hit: Omit<TreatedHit, 'steps'>): string {
  const { members = [], edgesHz, recordingId, startFrame, endFrame, voice } = hit;
  if (!isLayered(hit) && voice) return voiceKey(voice);
  if (!isLayered(hit)) return [recordingId, startFrame, endFrame].join(' ');
  const [first] = members;
  // The first layer gives the rate, heard or not.
  const rate = first && stretchesOf(first.hit)[0]?.recordingId;
  return JSON.stringify([rate, heardMembers(members).map((member) => memberKey(member, edgesHz))]);
}

const { alone: _alone, muted: _muted, ...SOUNDING } = MEMBER_PARAMETERS;
/** What changes how a layer lies in the sum, not what it is. */
const { offsetFrames: _offset, levelDb: _level, pan: _pan, inverted: _inverted, ...SHAPING } = SOUNDING;

/** A layer's level in each band between edges, in dB. */
export function bandLevels({ bandsDb }: Pick<Member, 'bandsDb'>, edgesHz: readonly number[]): number[] {
  return Array.from({ length: edgesHz.length + 1 }, (_, band) => bandsDb[band] ?? 0);
}

/** Key of a layer's place in the sum. */
function memberKey(member: TreatedMember, edgesHz: readonly number[]): string {
  return JSON.stringify([
    memberAudioKey(member, edgesHz),
    sparse(SOUNDING, { ...member }),
    contentKey(memberHit(member)),
  ]);
}

/** Key of a layer's audio before its place in the sum: tuned, treated, in its bands. */
export function memberAudioKey(member: TreatedMember, edgesHz: readonly number[]): string {
  const bands = edgesHz.length > 0 ? [edgesHz, bandLevels(member, edgesHz)] : [];
  return JSON.stringify([audioKey(memberHit(member)), sparse(SHAPING, { ...member }), bands]);
}

/** Key of a hit's sound, gain included. */
export function contentKey(hit: TreatedHit): string {
  return [audioKey(hit), ...parted(hit).levelling.map(stepKey)].join(' ');
}

/**
 * The product of the gains of levelling steps. `measured` gives peak and loudness of the audio with the gain of the
 * steps so far.
 */
export function levelOf(steps: readonly Step[], measured: (gainBefore: number) => Measured): number {
  let gain = 1;
  for (const step of steps) {
    const before = gain;
    gain *= processorOf(step.processor).gain?.(() => measured(before), valuesOf(step)) ?? 1;
  }
  return gain;
}
