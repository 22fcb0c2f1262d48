import { useRouter } from 'next/navigation';
import type { HitView } from '@/contract/views';
import { useCommands } from '../data/commit';
import { useHits } from '../data/queries';
import { copyOf } from '../hits/edits';
import { tell } from '../parts/notice';
import { addChain } from './chains';
import { hitSubject } from './subject';

/** Makes a further hit with the same steps, an octave away. */
export function OctaveBeside({ hit }: { hit: HitView }) {
  const { commit } = useCommands();
  const router = useRouter();
  const hits = useHits().data ?? [];
  const make = (semitones: number) => {
    const where = semitones < 0 ? 'an octave down' : 'an octave up';
    const newId = () => crypto.randomUUID();
    const id = newId();
    // It is a sound of its own: the slice stays with the hit that was made of it.
    const { changes, name } = copyOf(
      { ...hit, sliceId: null },
      id,
      `${hit.name} ${where}`,
      new Set(hits.map((h) => h.name)),
      newId,
    );
    const tuned = addChain([{ ...hitSubject(hit), owner: { hitId: id } }], [{ processor: 'tune', semitones }], newId);
    void commit(`made ${name}`, [...changes, ...tuned]);
    tell(`“${name}” lies beside it among the hits.`, {
      action: { label: 'Open it', onClick: () => router.push(`/hits/${id}`) },
    });
  };
  return (
    <p className="mt-1 flex items-center gap-2">
      <span className="text-soft">A hit beside it</span>
      {[-12, 12].map((by) => (
        <button
          key={by}
          type="button"
          className="h-6 rounded border border-line px-2 hover:border-edge"
          onClick={() => make(by)}
        >
          an octave {by < 0 ? 'down' : 'up'}
        </button>
      ))}
    </p>
  );
}
