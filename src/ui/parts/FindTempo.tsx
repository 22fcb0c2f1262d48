import type { RecordingTempo } from '@/contract/views';
import { FindIn } from './FindIn';

interface FindTempoProps {
  readonly label: string;
  readonly placeholder: string;
  readonly className?: string;
  readonly tempos: readonly RecordingTempo[];
  readonly onPick: (recording: RecordingTempo) => void;
  readonly onFocus?: () => void;
}

/** Finds one of the recordings that have a tempo. */
export function FindTempo({ tempos, ...rest }: FindTempoProps) {
  return (
    <FindIn
      {...rest}
      immediate
      items={tempos}
      keyOf={({ id }) => id}
      nameOf={({ title }) => title}
      row={({ title, bpm }) => (
        <>
          <span className="min-w-0 flex-1 truncate">{title}</span>
          <span className="figure text-soft">{bpm.toFixed(1)}</span>
        </>
      )}
    />
  );
}
