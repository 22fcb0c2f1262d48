import type { HitView } from '@/contract/views';
import { MOST_MEMBERS } from '@/core/layering/parameters';
import { useCommands } from '../data/commit';
import { FindIn } from '../parts/FindIn';
import { Glyph } from '../parts/Glyph';
import { addMember } from './edits';

/** Finds a hit by its name and adds it as a layer. */
export function AddLayer({ hit, hits }: { hit: HitView; hits: readonly HitView[] }) {
  const { commit } = useCommands();
  if (hit.members.length >= MOST_MEMBERS) return null;
  const add = (other: HitView) => {
    const position = Math.max(-1, ...hit.members.map((m) => m.position)) + 1;
    void commit(`added ${other.name} to ${hit.name}`, [
      addMember(hit.id, { hitId: other.id, position }, () => crypto.randomUUID()),
    ]);
  };
  return (
    <FindIn
      label="Add a layer"
      placeholder="add a layer"
      className="w-[112px] max-xl:w-[92px]"
      items={hits.filter(({ id, binnedAt }) => id !== hit.id && binnedAt === null)}
      keyOf={({ id }) => id}
      nameOf={({ name }) => name}
      row={({ family, name }) => (
        <>
          <Glyph family={family} />
          <span className="truncate">{name}</span>
        </>
      )}
      onPick={add}
    />
  );
}
