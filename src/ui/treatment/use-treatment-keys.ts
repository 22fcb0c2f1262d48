import { useEffect, useState } from 'react';
import { useHotkeys } from 'react-hotkeys-hook';
import type { RecordingView } from '@/contract/views';
import { isLayered, type TreatedHit } from '@/core/hit/key';
import { fromDb } from '@/core/signal/units';
import type { Point } from '@/core/treatment/equaliser';
import { fitAll, zoomAt } from '@/picture/span';
import { useKitDesk } from '../pads/kit-context';
import { stretchOfHit } from '../pads/laying';
import { useActions } from '../parts/actions';
import { leaveControl, notInControl, pageKey } from '../parts/focus';
import type { SpanDesk } from '../parts/use-span';
import { useStatus } from '../shell/status';
import { useAudition } from '../sound/use-audition';
import type { StoredStep, Subject } from './subject';
import type { StepEdits } from './use-steps';

interface Treated {
  readonly subject: Subject;
  readonly untreated: TreatedHit;
  readonly recording: RecordingView;
  readonly step: StoredStep | undefined;
  readonly edits: StepEdits;
  /** Loudness before minus loudness now, in dB. */
  readonly matchDb: number;
  readonly onChoose: (id: string) => void;
  readonly toggleEdges: () => void;
  readonly spans: SpanDesk;
  /** Frames that the whole view shows. */
  readonly frames: number;
}

/** Listening to a hit before and after at one loudness, and the keys of its treatment. */
export function useTreatmentKeys(props: Treated) {
  const { subject, untreated, recording, step, edits, matchDb, onChoose, toggleEdges, spans, frames } = props;
  const { steps, sound, hit } = subject;
  const hasEdges = hit !== null && !isLayered(hit);
  const { play, toggle, stop } = useAudition();
  const { lay } = useKitDesk();
  const [isBefore, setIsBefore] = useState(false);
  useEffect(() => stop, [stop]);
  // The louder of the two is attenuated, so that neither clips.
  const gains = { before: fromDb(-Math.max(0, matchDb)), after: fromDb(Math.min(0, matchDb)) };
  const soundOf = (before: boolean) => {
    const heard = before ? untreated : sound;
    const gain = steps.some((s) => s.active) && Number.isFinite(matchDb) ? gains[before ? 'before' : 'after'] : 1;
    return { recording, startFrame: sound.startFrame, endFrame: sound.endFrame, hit: heard, gain };
  };
  const swap = () => {
    setIsBefore(!isBefore);
    play(soundOf(!isBefore));
  };
  const move = (by: number) => {
    leaveControl();
    const at = steps.findIndex((s) => s.id === step?.id);
    const next = steps[Math.max(0, Math.min(steps.length - 1, at + by))];
    if (next) onChoose(next.id);
  };
  const place = (by: 1 | -1) => {
    const over = steps[steps.findIndex((s) => s.id === step?.id) + by];
    if (step && over) edits.move(step.id, over.id);
  };
  useHotkeys('space', () => toggle(soundOf(isBefore)), pageKey);
  useHotkeys('slash', swap, pageKey);
  useHotkeys('up', () => move(-1), pageKey);
  useHotkeys('down', () => move(1), pageKey);
  useHotkeys('alt+up', () => place(-1), pageKey);
  useHotkeys('alt+down', () => place(1), pageKey);
  useHotkeys('delete, backspace', () => step && edits.remove(step), pageKey);
  useHotkeys('period', () => step && edits.toggle(step), pageKey);
  useHotkeys('enter', () => hit && lay(stretchOfHit(hit, recording), null, 'next'), notInControl);
  useHotkeys('shift+f4', toggleEdges, pageKey);
  const zoom = (factor: number) => spans.set((span) => zoomAt(span, factor, spans.width() / 4, spans.width(), frames));
  useHotkeys('equal', () => zoom(1 / 1.6), pageKey);
  useHotkeys('minus', () => zoom(1.6), pageKey);
  useHotkeys('bracketright', () => spans.set(() => fitAll(spans.width(), frames)), pageKey);
  useActions([
    { name: 'Hear before and after at one loudness', key: '/', run: swap },
    { name: 'Switch the step on or off', key: '.', run: () => step && edits.toggle(step) },
    { name: 'Move the step up', key: 'Alt ↑', run: () => place(-1) },
    { name: 'Move the step down', key: 'Alt ↓', run: () => place(1) },
    { name: 'Remove the step', key: 'Delete', run: () => step && edits.remove(step) },
    ...(hasEdges ? [{ name: 'Trim: start and end magnified', key: 'Shift F4', run: toggleEdges }] : []),
  ]);
  useStatus(
    `Space hear · / before and after at one loudness · ↑ ↓ steps · Alt ↑ ↓ move · . on or off · Delete removes · wheel zooms${
      hasEdges ? ' · Shift F4 edges' : ''
    }${hit ? ' · Enter to the next free pad' : ''}`,
  );
  return {
    isBefore,
    swap,
    /** Sounds the hit up to an equaliser, with one band of it alone. */
    band: (of: StoredStep, point: Point) => {
      const until = steps.slice(0, steps.indexOf(of));
      const alone = { ...of, active: true, points: [point] };
      play({ ...soundOf(false), hit: { ...sound, steps: [...until, alone] }, gain: 1 });
    },
  };
}
