import type { RecordingView, StoryView } from '@/contract/views';
import { noteName } from '@/core/signal/units';
import { clock, minus } from '../parts/figures';

/** The file's own metadata, verbatim. None of it is exported automatically. */
export function Said({
  recording: r,
  story,
  onHear,
}: {
  recording: RecordingView;
  story: StoryView;
  onHear: (frame: number) => void;
}) {
  const { said, files } = story;
  const rows: [string, string][] = (said?.tags ?? []).map((t) => [t.name, t.text]);
  if (said?.tempoBpm != null && !rows.some(([name]) => name === 'tempo')) rows.push(['tempo', `${said.tempoBpm} BPM`]);
  if (said?.rootNote != null) rows.push(['root note', rootText(said.rootNote, said.rootCents)]);
  if (said?.timeReference != null) rows.push(['began at', clock(said.timeReference / r.sampleRate)]);
  if (said?.delay && said.delay.startFrames + said.delay.endFrames > 0) {
    const { startFrames, endFrames } = said.delay;
    rows.push(['taken off', `${startFrames}${endFrames > 0 ? ` + ${endFrames}` : ''} frames of the encoder's delay`]);
  }
  for (const { startFrame, endFrame } of said?.loops ?? [])
    rows.push(['loop', `${clock(startFrame / r.sampleRate)} to ${clock(endFrame / r.sampleRate)}`]);
  for (const file of files) rows.push(['file', file.path || file.fileName]);
  return (
    <section aria-label="What the file says" className="mt-3">
      <h3 className="text-[12px] text-soft">What the file says</h3>
      <dl className="grid grid-cols-[64px_1fr] gap-x-2 text-[12px]">
        {rows.map(([name, text], i) => (
          // biome-ignore lint/suspicious/noArrayIndexKey: names and texts may repeat, and the list never changes
          <div key={i} className="contents">
            <dt className="truncate text-soft" title={name}>
              {name}
            </dt>
            <dd className="break-words">{text}</dd>
          </div>
        ))}
      </dl>
      {said && said.marks.length > 0 && (
        <p className="mt-1 text-[12px]">
          <span className="text-soft">{said.marks.length} marks: </span>
          {said.marks.slice(0, 12).map((mark, i) => (
            // biome-ignore lint/suspicious/noArrayIndexKey: marks have no other name
            <span key={i}>
              {i > 0 && ', '}
              <button type="button" className="text-verdigris hover:underline" onClick={() => onHear(mark.frame)}>
                {mark.label || clock(mark.frame / r.sampleRate)}
              </button>
            </span>
          ))}
          {said.marks.length > 12 && ' …'}
        </p>
      )}
    </section>
  );
}

function rootText(note: number, cents: number): string {
  return `${noteName(note)}${cents === 0 ? '' : ` ${cents > 0 ? '+' : ''}${minus(cents.toFixed(0))} cents`}`;
}
