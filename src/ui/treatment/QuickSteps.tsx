import type { RecordingView } from '@/contract/views';
import { processorOf } from '@/core/treatment/processors';
import { leaveControl } from '../parts/focus';
import { complain } from '../parts/notice';
import { learnRoom, quietestMoment } from './learn-room';
import { type Known, QUICK_STEPS, type QuickStep } from './quick-steps';
import type { Subject } from './subject';
import type { StepEdits } from './use-steps';

interface QuickStepsProps {
  readonly subject: Subject;
  readonly recording: RecordingView;
  readonly edits: StepEdits;
  readonly known: Known;
  readonly onChoose: (id: string) => void;
}

/** The steps that nearly every hit gets, each added by one click. */
export function QuickSteps({ subject, recording, edits, known, onChoose }: QuickStepsProps) {
  const add = async ({ processor, values }: QuickStep) => {
    const own = subject.hit === null && processor === 'level' ? {} : values(known);
    const quiet = processor === 'noise' && recording.analysed ? await quietestMoment(recording) : null;
    const tone = quiet && (await learnRoom(recording, quiet));
    onChoose(edits.add(processor, { ...own, ...tone }));
  };
  return (
    <p className="flex flex-none flex-wrap gap-1 border-line border-t pt-1 text-[12px]">
      {QUICK_STEPS.filter(({ processor }) => subject.hit !== null || !processorOf(processor).singleSound).map(
        (quick) => (
          <button
            key={quick.label}
            type="button"
            className="h-[22px] flex-auto rounded border border-line px-1 hover:border-edge"
            title={quick.title}
            onClick={() => {
              // The next key is the page's: Enter lays the hit.
              leaveControl();
              void add(quick).catch((error: Error) => complain(error.message));
            }}
          >
            {quick.label}
          </button>
        ),
      )}
    </p>
  );
}
