import { GROOVE_PARAMETERS } from '@/core/groove/parameters';
import { inRange } from '@/core/parameter/values';
import { useCommands } from '../data/commit';
import { useTempos } from '../data/queries';
import { FindTempo } from '../parts/FindTempo';
import type { GrooveDesk } from './use-groove-desk';

/** Takes the tempo of a recording for the groove. */
export function TempoFrom({ desk }: { desk: GrooveDesk }) {
  const { commit } = useCommands();
  const { groove } = desk.stored;
  const tempos = useTempos().filter(({ bpm }) => inRange(GROOVE_PARAMETERS.bpm, bpm));
  if (tempos.length === 0) return null;
  return (
    <FindTempo
      label="Tempo from a recording"
      placeholder="tempo from a recording"
      className="mb-2 w-full"
      tempos={tempos}
      onPick={({ title, bpm }) => {
        const set = { bpm: Math.round(bpm * 100) / 100 };
        void commit(`took the tempo of ${title}`, [
          { op: 'update', doc: 'groove', id: groove.id, rev: groove.rev, set },
        ]);
      }}
    />
  );
}
