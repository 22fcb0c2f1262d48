import type { Stored } from '@/contract/documents';
import type { KitView } from '@/contract/views';
import { capOf } from '@/core/kit/layout';
import type { Pad } from '@/core/kit/model';
import { useCommands } from '../../data/commit';
import { useHits } from '../../data/queries';
import { Glyph } from '../../parts/Glyph';
import { type KitSubstitute, nameOfSubstitute, substituted, substitutesIn } from '../substitutes';

const MOST_OFFERED = 8;

/** A pad without a sound: says how it gets one, and offers substitutes where it has a role. */
export function MissingRole({ view, pad }: { view: KitView; pad: Stored<Pad> }) {
  const { commit } = useCommands();
  const { data: hits } = useHits();
  const offered = pad.role === '' ? [] : substitutesIn(view, pad, hits ?? []).slice(0, MOST_OFFERED);
  const take = (substitute: KitSubstitute) => {
    const label = `let ${nameOfSubstitute(substitute)} sound as ${pad.role}`;
    void commit(
      label,
      substituted(view, pad, substitute, () => crypto.randomUUID()),
    );
  };
  return (
    <div className="m-auto max-w-[360px] text-center">
      <p className="text-soft">
        No sound yet. Pick one (F6), or drop a slice or a sound file on the pad
        {pad.role ? `: it takes the role of ${pad.role}, with its note and settings.` : '.'}
      </p>
      {offered.length > 0 && (
        <>
          <p className="mt-3 font-semibold text-[12px] text-soft" id="substitutes">
            Substitutes for {pad.role}
          </p>
          <ul aria-labelledby="substitutes" className="mt-1 text-left">
            {offered.map((substitute) => (
              <li key={substitute.kind === 'hit' ? substitute.hit.id : substitute.pad.id}>
                <button
                  type="button"
                  className="flex w-full items-center gap-2 rounded px-2 py-1 hover:bg-paper"
                  title={`Let it sound as ${pad.role}`}
                  onClick={() => take(substitute)}
                >
                  <Glyph family={pad.family} />
                  <span className="min-w-0 flex-1 truncate text-left font-semibold">
                    {nameOfSubstitute(substitute)}
                  </span>
                  <span className="flex-none text-[12px] text-soft">
                    {substitute.kind === 'hit' ? 'of your hits' : `pad ${capOf(substitute.pad.position)} of this kit`}
                  </span>
                </button>
              </li>
            ))}
          </ul>
        </>
      )}
    </div>
  );
}
