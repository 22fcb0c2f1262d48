import Link from 'next/link';
import type { RecordingView } from '@/contract/views';
import { toDb } from '@/core/signal/units';
import { length, minus } from '../parts/figures';
import { useRecordingEdits } from '../recordings/use-edits';
import { useAudition } from '../sound/use-audition';

/** The takes of this title, the newest first: each to hear, to slice, or to drop. */
export function TakeTable({ takes }: { takes: readonly RecordingView[] }) {
  const audition = useAudition();
  const edits = useRecordingEdits();
  if (takes.length === 0)
    return (
      <p className="px-4 py-3 text-soft">
        No take yet. Each take becomes a recording of its own, kept as it came in; the ones you drop go to the bin.
      </p>
    );
  return (
    <table className="w-full table-fixed" aria-label="Takes">
      <thead>
        <tr className="h-6 border-line border-b text-left text-[12px] text-soft">
          <th className="w-[24%] px-4 font-normal">Take</th>
          <th className="w-[76px] text-right font-normal">Length</th>
          <th className="w-[92px] text-right font-normal">Peak</th>
          <th className="w-[92px] text-right font-normal">Room</th>
          <th className="w-[62px] text-right font-normal">Strokes</th>
          <th className="px-4 text-right font-normal" />
        </tr>
      </thead>
      <tbody>
        {takes.map((take) => (
          <tr key={take.id} data-take={take.id} className="h-[30px] border-line border-b">
            <td className="truncate px-4">
              {take.title}
              {take.take?.isCutOff && (
                <span className="ml-2 text-[12px] text-madder" title={take.warnings.join(' ')}>
                  cut off
                </span>
              )}
              {!take.take?.isCutOff && take.warnings.length > 0 && (
                <span className="ml-2 text-[12px] text-madder" title={take.warnings.join(' ')}>
                  {take.warnings.length === 1 ? 'a gap' : `${take.warnings.length} gaps`}
                </span>
              )}
            </td>
            <td className="figure text-right">{length(take.frames / take.sampleRate)}</td>
            <td className="figure text-right">{inDb(toDb(take.peak))}</td>
            <td className="figure text-right">{take.take?.roomDb == null ? '–' : inDb(take.take.roomDb)}</td>
            <td className="figure text-right">{take.analysed ? take.sliceCount : '…'}</td>
            <td className="whitespace-nowrap px-4 text-right">
              <button
                type="button"
                className="rounded px-1 text-verdigris hover:underline"
                aria-label={`Hear ${take.title}`}
                onClick={() => audition.toggle({ recording: take, startFrame: 0, endFrame: take.frames })}
              >
                {audition.playingId === take.id ? 'Stop' : 'Hear'}
              </button>
              <Link
                href={`/slice/${take.id}`}
                aria-label={`Slice ${take.title}`}
                className="ml-2 rounded px-1 text-verdigris hover:underline"
              >
                Slice
              </Link>
              <button
                type="button"
                className="ml-2 rounded px-1 text-soft hover:text-madder hover:underline"
                aria-label={`Drop ${take.title}`}
                title="To the bin; Ctrl Z brings it back"
                onClick={() => edits.bin([take])}
              >
                Drop
              </button>
            </td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}

function inDb(db: number): string {
  return db > -120 ? `${minus(db.toFixed(1))} dBFS` : '−∞ dBFS';
}
