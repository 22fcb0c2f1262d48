import { useHotkeys } from 'react-hotkeys-hook';
import type { HitView, RecordingView } from '@/contract/views';
import { useActions } from '../parts/actions';
import type { SpanDesk } from '../parts/use-span';
import { useStatus } from '../shell/status';
import { soundNow } from '../sound/open-sound';
import { useTreatKey } from '../treatment/use-treat-key';
import type { EdgeDesk } from './use-edges';
import type { Gestures } from './use-gestures';
import type { Hearing } from './use-hearing';
import type { Laying } from './use-laying';
import { useSliceKeys } from './use-slice-keys';
import type { SliceTreatment } from './use-slice-treatment';
import type { SubjectDesk } from './use-subject';
import type { ZoomTo } from './ViewTools';

interface DeskParts {
  readonly recording: RecordingView;
  readonly hit: HitView | undefined;
  readonly subjects: SubjectDesk;
  readonly hearing: Hearing;
  readonly edges: EdgeDesk;
  readonly gestures: Gestures;
  readonly laying: Laying;
  readonly spans: SpanDesk;
  readonly zoom: (what: ZoomTo) => void;
  readonly goToBare: (by: 1 | -1) => void;
  readonly onBookmark: () => void;
  readonly toggleTall: () => void;
  readonly treat: SliceTreatment;
}

/** The keys of the desk, and the line of status that tells the most used of them. */
export function useDeskKeys(parts: DeskParts): void {
  const { recording, hit, subjects, hearing, edges, gestures, laying, spans } = parts;
  const { subject, stretch, setStretch, selection, onSlices } = subjects;
  const { hear, loop, setLoop } = hearing;
  const playOrStop = () => {
    const sound = soundNow();
    if (sound?.audition.playhead()) sound.audition.stop();
    else if (stretch) hear(stretch.start, stretch.end);
    else if (subject) hear(subject.startFrame, subject.endFrame, hit);
    else hear(0, recording.frames);
  };
  const addAtPlayhead = () => {
    const head = soundNow()?.audition.playhead()?.frame;
    if (stretch && head === undefined) {
      gestures.sliceStretch();
      return;
    }
    const span = spans.get();
    const middle = subject
      ? (subject.startFrame + subject.endFrame) / 2
      : span.start + (spans.width() * span.framesPerPixel) / 2;
    gestures.add(Math.round(head ?? middle));
  };
  useSliceKeys({
    step: subjects.step,
    chooseAll: selection.chooseAll,
    playOrStop,
    playFrom: () => hear(stretch?.start ?? subject?.startFrame ?? 0, recording.frames),
    playWhole: () => hear(0, recording.frames),
    toggleLoop: () => setLoop(!loop),
    nudge: (edge, ms) => edges.nudge(edge, Math.round((ms / 1000) * recording.sampleRate)),
    nudgeFrames: edges.nudge,
    lay: onSlices(laying.lay),
    layOn: (position) => onSlices(() => laying.layOn(position))(),
    add: onSlices(addAtPlayhead),
    remove: onSlices(gestures.remove),
    merge: onSlices(gestures.merge),
    letDie: edges.letDie,
    keep: onSlices(gestures.keep),
    lock: onSlices(gestures.lock),
    bookmark: parts.onBookmark,
    goToBare: parts.goToBare,
    zoom: parts.zoom,
    toggleTall: parts.toggleTall,
    leave: () => {
      if (stretch) setStretch(null);
      else if (hit) subjects.leaveHit();
    },
  });
  const treat = parts.treat;
  useTreatKey(hit ? hit.id : treat.hitId, hit ? undefined : treat.make);
  const louder = (by: 1 | -1) => onSlices(() => treat.louder(by))();
  useHotkeys('mod+up', () => louder(1), { preventDefault: true });
  useHotkeys('mod+down', () => louder(-1), { preventDefault: true });
  useActions([
    { name: 'Treat the whole recording', key: '', run: treat.recording },
    {
      name: stretch ? 'Print the marked stretch as it sounds' : 'Print the recording as it sounds',
      key: '',
      run: treat.print,
    },
    { name: 'Louder by one step', key: 'Ctrl ↑', run: () => louder(1) },
    { name: 'Quieter by one step', key: 'Ctrl ↓', run: () => louder(-1) },
  ]);
  useStatus(statusOf(hit, subjects));
}

function statusOf(hit: HitView | undefined, { slices, selection: { chosen, index, ids } }: SubjectDesk): string {
  if (hit)
    return `${hit.name} · Space hear · Shift ← → start · Shift ↓ ↑ end · ; until it dies away · Esc back to the slices`;
  if (!chosen)
    return `${slices.length} slices · click one or press → · double-click adds a mark · drag marks a stretch · wheel zooms`;
  const many = ids.size > 1 ? `, ${ids.size} chosen` : '';
  return `Slice ${index + 1} of ${slices.length}${many} · Space hear · ← → next · Shift ← → start · Shift ↓ ↑ end · ; until it dies away · Enter to the next free pad`;
}
