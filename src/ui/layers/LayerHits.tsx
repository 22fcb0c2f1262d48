import Link from 'next/link';
import { useRouter } from 'next/navigation';
import type { HitView } from '@/contract/views';
import { MOST_MEMBERS } from '@/core/layering/parameters';
import { useCommands } from '../data/commit';
import { layered } from './edits';

/** Makes a layered hit of the chosen ones and opens it; opens the layers of one that has some. */
export function LayerHits({ hits, names }: { hits: readonly HitView[]; names: ReadonlySet<string> }) {
  const { commit } = useCommands();
  const router = useRouter();
  const [only] = hits;
  if (hits.length === 1 && only && only.members.length > 0)
    return (
      <Link className="quiet-button leading-[26px]" title="What it is the sum of" href={`/hits/${only.id}/layers`}>
        Layers
      </Link>
    );
  if (hits.length < 2 || hits.length > MOST_MEMBERS) return null;
  const layer = async () => {
    const id = crypto.randomUUID();
    const { changes, name } = layered(hits, names, id, () => crypto.randomUUID());
    const answer = await commit(
      `layered ${hits.map((hit) => hit.name).join(' and ')} as ${name}`.slice(0, 200),
      changes,
    );
    if (answer) router.push(`/hits/${id}/layers`);
  };
  return (
    <button
      type="button"
      className="quiet-button"
      title="One hit that is the sum of these: lined up, shared and levelled on a page of its own"
      onClick={() => void layer()}
    >
      Layer them
    </button>
  );
}
