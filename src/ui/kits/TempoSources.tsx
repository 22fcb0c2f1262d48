import { useState } from 'react';
import type { KitView } from '@/contract/views';
import { KIT_PARAMETERS } from '@/core/kit/parameters';
import { useTempos } from '../data/queries';
import { FindTempo } from '../parts/FindTempo';
import { useTaps } from '../parts/use-taps';

/** Where a kit's tempo can come from besides typing: taps, or a recording, those of the kit first. */
export function TempoSources({ view, onTempo }: { view: KitView; onTempo: (tempoBpm: number) => void }) {
  const [asked, setAsked] = useState(false);
  const all = useTempos(asked);
  const { low, high } = KIT_PARAMETERS.tempoBpm;
  const own = new Set(view.recordings.map(({ id }) => id));
  const tempos = all.filter(({ bpm }) => bpm >= low && bpm <= high);
  const tap = useTaps(onTempo);
  return (
    <div className="my-1 flex items-center gap-2 text-[12px]">
      <button type="button" className="quiet-button px-2" title="Tap the beat four times or more" onClick={tap}>
        Tap
      </button>
      <FindTempo
        label="Tempo from a recording"
        placeholder="from a recording"
        className="w-[150px]"
        tempos={[...tempos.filter(({ id }) => own.has(id)), ...tempos.filter(({ id }) => !own.has(id))]}
        onPick={({ bpm }) => onTempo(Math.round(bpm * 100) / 100)}
        onFocus={() => setAsked(true)}
      />
    </div>
  );
}
