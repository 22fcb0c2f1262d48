import type { Stored } from '@/contract/documents';
import type { GrooveView } from '@/contract/views';
import { quantisedTo } from '@/core/groove/edits';
import type { GrooveNote } from '@/core/groove/model';
import { grooveTicks } from '@/core/groove/time';
import { getJson } from '../data/api';
import { useCommands } from '../data/commit';
import { useGrooves } from '../data/queries';
import { FindIn } from '../parts/FindIn';
import { complain, tell } from '../parts/notice';
import { noteChanges } from './edits';
import type { GrooveDesk } from './use-groove-desk';

interface OtherTimingProps {
  readonly desk: GrooveDesk;
  readonly notes: readonly Stored<GrooveNote>[];
  readonly whom: string;
  readonly strength: number;
}

/** Pulls notes towards the times of another groove, which is repeated to their end. */
export function OtherTiming({ desk, notes, whom, strength }: OtherTimingProps) {
  const { commit } = useCommands();
  const { data } = useGrooves();
  const others = (data ?? []).filter(({ id }) => id !== desk.stored.groove.id);
  if (others.length === 0) return null;
  const pull = async (id: string, name: string) => {
    try {
      const other = await getJson<GrooveView>(`/api/grooves/${id}`);
      const [length, end] = [grooveTicks(other.groove), grooveTicks(desk.stored.groove)];
      const laps = Math.ceil(end / length);
      const own = other.notes.map(({ tick }) => tick);
      const times = Array.from({ length: laps }, (_, lap) => own.map((tick) => tick + lap * length)).flat();
      const changes = noteChanges(notes, quantisedTo(notes, times, desk.step, strength));
      if (changes.length === 0) return tell(`No stroke of ${name} lies near enough to pull one of these.`);
      void commit(`took the timing of ${name} for ${whom}`, changes);
    } catch (error) {
      complain(`${name}: ${(error as Error).message}`);
    }
  };
  return (
    <FindIn
      label={`Timing of another groove for ${whom}`}
      placeholder="to the timing of another groove"
      className="mt-2 w-full"
      immediate
      items={others}
      keyOf={({ id }) => id}
      nameOf={({ name }) => name}
      row={({ name }) => <span className="truncate">{name}</span>}
      onPick={({ id, name }) => void pull(id, name)}
    />
  );
}
