import type { Stored } from '@/contract/documents';
import type { HitView, RecordingView, ResolvedMember } from '@/contract/views';
import { HIT_INITIAL } from '@/core/hit/initial';
import { type TreatedHit, wholeChain } from '@/core/hit/key';
import type { Step } from '@/core/treatment/step';

export type StoredStep = Stored<Step>;

/** The kinds of step: of a hit, of a layer of one, of a recording, and those that run on what a pad plays or a bus gets. */
export type StepDoc = 'step' | 'memberStep' | 'recordingStep' | 'padStep' | 'busStep';

/** What is treated: a hit, a layer of a layered hit, or a whole recording, whose hits inherit its steps. */
export interface Subject {
  /** The kind of its steps, and the field that names their owner. */
  readonly doc: Exclude<StepDoc, 'padStep' | 'busStep'>;
  readonly owner: Readonly<Record<string, string>>;
  readonly name: string;
  readonly steps: readonly StoredStep[];
  /** The hit; of a recording the stretch that is shown and heard, as a hit that has only what it inherits. */
  readonly sound: TreatedHit;
  /** The hit itself; null for a recording and for a layer. */
  readonly hit: HitView | null;
}

/** Whether many sounds are treated at once. */
export function isRecording({ doc }: Pick<Subject, 'doc'>): boolean {
  return doc === 'recordingStep';
}

/** A layer of a layered hit: its hit as it sounds, and what is done to it here only. */
export function memberSubject(layered: HitView, member: ResolvedMember): Subject {
  return {
    doc: 'memberStep',
    owner: { memberId: member.id },
    name: `${member.hit.name} in ${layered.name}`,
    steps: member.steps,
    sound: { ...member.hit, inherits: true, inherited: wholeChain(member.hit), steps: member.steps },
    hit: null,
  };
}

export function hitSubject(hit: HitView): Subject {
  return { doc: 'step', owner: { hitId: hit.id }, name: hit.name, steps: hit.steps, sound: hit, hit };
}

/** Longest stretch of a recording that is rendered while its steps are turned, in seconds. */
export const MOST_SHOWN_S = 10;

/** [from, to) of a recording, in frames, at most `MOST_SHOWN_S` of it. */
export function recordingSubject(recording: RecordingView, from: number, to: number): Subject {
  const startFrame = Math.max(0, Math.min(recording.frames - 1, from));
  const most = startFrame + Math.round(MOST_SHOWN_S * recording.sampleRate);
  return {
    doc: 'recordingStep',
    owner: { recordingId: recording.id },
    name: recording.title,
    steps: recording.steps,
    sound: stretchAsHit(recording, startFrame, Math.max(startFrame + 1, Math.min(recording.frames, to, most))),
    hit: null,
  };
}

/** A stretch of a recording with what is done to the recording; it is no hit of the workspace and has no id. */
export function stretchAsHit(recording: RecordingView, startFrame: number, endFrame: number): TreatedHit {
  const { id, title, steps } = recording;
  return {
    ...HIT_INITIAL,
    id: '',
    name: title,
    family: null,
    recordingId: id,
    startFrame,
    endFrame,
    sliceId: null,
    steps,
  };
}
