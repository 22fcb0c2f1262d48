import { useMemo, useRef } from 'react';
import type { HitView, RecordingView } from '@/contract/views';
import { contentKey, memberAudioKey, memberHit } from '@/core/hit/key';
import { type LaneSamples, laneSamples } from '@/picture/lanes';
import { answered, useAnswer } from '../sound/use-answer';

/** A layer's samples at the sum's rate, without its place in the sum, and where its attack begins. */
export interface LaneSound extends LaneSamples {
  readonly attackFrame: number;
}

export interface LaneSounds {
  readonly sampleRate: number;
  /** In the order of the members that they were made of. */
  readonly lanes: ReadonlyMap<string, LaneSound>;
}

/** The samples of a layered hit's layers, to be drawn: fetched anew only where a layer itself has changed. */
export function useLanes(hit: HitView, recording: RecordingView): { sounds: LaneSounds | null; error: string | null } {
  const kept = useRef(new Map<string, LaneSamples>());
  const key = useMemo(
    () =>
      JSON.stringify(
        hit.members.map((member) => [member.id, memberAudioKey(member, hit.edgesHz), contentKey(memberHit(member))]),
      ),
    [hit],
  );
  const answer = useAnswer(key, async (samples): Promise<LaneSounds> => {
    // As of now: another answer may come in between.
    const had = kept.current;
    const found = await samples.lanes(hit, recording, [...had.keys()]);
    const lanes = found.lanes.map(({ key: of, samples: drawn, attackFrame }) => {
      const made = drawn ? laneSamples(drawn) : (had.get(of) as LaneSamples);
      return { of, made, attackFrame };
    });
    kept.current = new Map(lanes.map(({ of, made }) => [of, made]));
    return {
      sampleRate: found.sampleRate,
      lanes: new Map(lanes.map(({ made, attackFrame }, n) => [hit.members[n]?.id ?? '', { ...made, attackFrame }])),
    };
  });
  const { value, error } = answered(answer);
  return { sounds: value, error };
}
