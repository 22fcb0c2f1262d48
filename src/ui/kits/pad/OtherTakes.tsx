import type { Stored } from '@/contract/documents';
import type { KitView } from '@/contract/views';
import type { Variation } from '@/core/kit/model';
import { useAudition } from '../../sound/use-audition';

interface OtherTakesProps {
  readonly view: KitView;
  readonly variations: readonly Stored<Variation>[];
  readonly onTake: (variation: Stored<Variation>) => void;
  readonly onDrop: (variation: Stored<Variation>) => void;
}

/** Other strokes of the drum on a pad: a click sounds one, a second button plays it instead. */
export function OtherTakes({ view, variations, onTake, onDrop }: OtherTakesProps) {
  const audition = useAudition();
  if (variations.length === 0) return null;
  return (
    <section aria-label="Other takes" className="mt-2">
      <h2 className="text-[12px] font-semibold text-soft">
        {variations.length === 1 ? 'Another take' : `${variations.length} other takes`}
      </h2>
      {variations.map((variation) => {
        const hit = view.hits.find((h) => h.id === variation.hitId);
        const recording = view.recordings.find((r) => r.id === hit?.recordingId);
        if (!hit || !recording) return null;
        return (
          <div
            key={variation.id}
            className="grid h-7 grid-cols-[minmax(0,1fr)_auto_24px] items-center gap-2 border-line border-b px-2"
          >
            <button
              type="button"
              className="min-w-0 truncate text-left hover:text-verdigris"
              title={`Hear ${hit.name}`}
              onClick={() => audition.play({ recording, startFrame: hit.startFrame, endFrame: hit.endFrame, hit })}
            >
              {hit.name}
            </button>
            <button
              type="button"
              className="rounded px-1 text-[12px] text-verdigris hover:underline"
              aria-label={`Play ${hit.name} instead`}
              onClick={() => onTake(variation)}
            >
              play it instead
            </button>
            <button
              type="button"
              className="rounded text-soft hover:text-madder"
              aria-label={`Drop the take ${hit.name}`}
              onClick={() => onDrop(variation)}
            >
              ×
            </button>
          </div>
        );
      })}
    </section>
  );
}
