'use client';

import type { Change } from '@/contract/edits';
import type { CutView } from '@/contract/views';
import { SPLIT_PARAMETERS } from '@/core/onset/split';
import { inRange } from '@/core/parameter/values';
import type { Rhythm } from '@/core/rhythm/rhythm';
import { useCommands } from '../data/commit';
import { seconds, sureness } from '../parts/figures';

/** From this confidence on a tempo is shown without doubt. */
const SURE = 0.6;

/** Tempo and first bar of a recording, their confidence, and one gesture to correct each. */
export function Time({
  view,
  rhythm,
  chosenFrame,
}: {
  view: CutView;
  rhythm: Rhythm;
  /** Start of the chosen slice, where the first bar can be set. */
  chosenFrame: number | undefined;
}) {
  const { commit } = useCommands();
  const { cut, recording } = view;
  const { bpm, bpmConfidence, octaves, downbeatFrame, downbeatConfidence, beats, beatUnit } = rhythm;
  if (bpm === null) return <span className="text-soft">No tempo could be told: there are too few strokes.</span>;
  const set = (label: string, fields: Readonly<Record<string, unknown>>) => {
    if (!cut) return;
    const change: Change = { op: 'update', doc: 'cut', id: cut.id, rev: cut.rev, set: fields };
    void commit(`${label} of ${recording.title}`, [change]);
  };
  // An estimate is never shown as certain.
  const sure = (confidence: number, said: unknown) =>
    said === null || said === undefined ? sureness(confidence) : 'said';
  const octave = (factor: number, label: string) => {
    const wanted = bpm * factor;
    const share = octaves.find((o) => Math.abs(o.bpm / wanted - 1) < 1e-6)?.share ?? 0;
    return (
      <button
        type="button"
        className="h-6 rounded px-1 hover:bg-sheet disabled:opacity-40"
        disabled={!inRange(SPLIT_PARAMETERS.tempoBpm, wanted)}
        title={`Take ${wanted.toFixed(1)} BPM instead; of this tempo, its half and its double it has ${Math.round(share * 100)} %`}
        onClick={() => set('set the tempo', { tempoBpm: Math.round(wanted * 1000) / 1000 })}
      >
        {label}
      </button>
    );
  };
  return (
    <fieldset aria-label="Time" className="flex items-center gap-1 whitespace-nowrap">
      <span className={`figure ${bpmConfidence < SURE ? 'text-madder' : ''}`} title="The tempo, and how sure it is">
        {bpm.toFixed(1)} BPM · {sure(bpmConfidence, cut?.tempoBpm)}
      </span>
      {octave(0.5, 'half')}
      {octave(2, 'double')}
      <span
        className={`figure pl-2 ${downbeatConfidence < SURE ? 'text-madder' : ''}`}
        title="Where the first bar begins, and how sure that is"
      >
        {beats}/{beatUnit} from {seconds(downbeatFrame / recording.sampleRate, 3)} ·{' '}
        {sure(downbeatConfidence, cut?.downbeatFrame)}
      </span>
      <button
        type="button"
        className="h-6 rounded px-1 hover:bg-sheet disabled:opacity-40"
        disabled={chosenFrame === undefined}
        title="The first bar begins with the slice that is chosen"
        onClick={() => set('set the first bar', { downbeatFrame: chosenFrame })}
      >
        from the chosen slice
      </button>
    </fieldset>
  );
}
