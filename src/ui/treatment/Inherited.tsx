import Link from 'next/link';
import type { HitView, RecordingView } from '@/contract/views';
import { processorOf } from '@/core/treatment/processors';
import { useCommands } from '../data/commit';

/** What a hit inherits from its recording, and the switch to leave it. */
export function Inherited({ hit, recording }: { hit: HitView; recording: RecordingView }) {
  const { commit } = useCommands();
  const labels = hit.inherited.filter((step) => step.active).map((step) => processorOf(step.processor).label);
  const { id, rev, name, inherits } = hit;
  return (
    <p className="flex h-[26px] flex-none items-center gap-2 border-line border-b px-2">
      <input
        type="checkbox"
        aria-label="Inherits what is done to its recording"
        checked={inherits}
        onChange={() =>
          void commit(`${name} ${inherits ? 'leaves' : 'inherits'} what is done to its recording`, [
            { op: 'update', doc: 'hit', id, rev, set: { inherits: !inherits } },
          ])
        }
      />
      <Link
        className={`truncate hover:underline ${inherits ? 'text-verdigris' : 'text-soft'}`}
        title={`What is done to all of ${recording.title}: ${labels.join(', ')}`}
        href={`/recordings/${recording.id}`}
      >
        as its recording: {labels.join(', ').toLowerCase() || 'all steps are off'}
      </Link>
    </p>
  );
}
