import Link from 'next/link';
import type { RecordingView } from '@/contract/views';

/** Opens what is done to a whole recording, and tells how much that is. */
export function TreatAll({ recording: { id, steps } }: { recording: RecordingView }) {
  const count = steps.filter((step) => step.active).length;
  return (
    <p className="text-[12px] text-soft">
      <Link className="text-verdigris underline" href={`/recordings/${id}`}>
        Treat all of it
      </Link>{' '}
      {count === 0
        ? 'by steps that its hits inherit'
        : `${count} ${count === 1 ? 'step' : 'steps'}, which its hits inherit`}
    </p>
  );
}
