import { useState } from 'react';
import type { Stored } from '@/contract/documents';
import type { KitView } from '@/contract/views';
import type { Layer, Pad } from '@/core/kit/model';
import { minus } from '../../parts/figures';
import { together } from '../layers';
import { Adding } from './Adding';
import { LayerActions } from './LayerActions';
import { LineUp } from './LineUp';
import { padTakes } from './pad-takes';

interface LayerTableProps {
  readonly view: KitView;
  readonly pad: Stored<Pad>;
  readonly layers: readonly Stored<Layer>[];
  readonly chosenId: string | undefined;
  readonly onChoose: (id: string) => void;
  readonly onRemove: (layer: Stored<Layer>) => void;
}

/** The layers of a pad. */
export function LayerTable({ view, pad, layers, chosenId, onChoose, onRemove }: LayerTableProps) {
  const [adding, setAdding] = useState(false);
  const takes = padTakes(layers).length;
  const heard = together(layers, chosenId);
  const columns = 'grid grid-cols-[minmax(0,1fr)_64px_52px_24px] items-center gap-2 px-2';
  return (
    <div>
      <header className="flex items-center justify-between">
        <h2 className="text-[12px] font-semibold text-soft">{namesOf(takes, layers.length - takes)}</h2>
        <span>
          {heard.length > 1 && (
            <>
              <LineUp {...{ view, pad }} layers={heard} />
              <button
                type="button"
                className="rounded px-1 text-[12px] text-verdigris hover:underline"
                title="What the sum gains and loses against the layers, and what mends it"
                onClick={() => setAdding(true)}
              >
                do they add?
              </button>
            </>
          )}
          {takes === 1 && <LayerActions {...{ view, pad, layers }} chosen={layers.find(({ id }) => id === chosenId)} />}
        </span>
        {adding && <Adding {...{ view, pad }} layers={heard} onClose={() => setAdding(false)} />}
      </header>
      {layers.map((layer) => {
        const hit = view.hits.find((h) => h.id === layer.hitId);
        const recording = view.recordings.find((r) => r.id === hit?.recordingId);
        const chosen = layer.id === chosenId;
        return (
          <div key={layer.id} className={`${columns} h-7 border-b border-line ${chosen ? 'bg-selection' : ''}`}>
            <button
              type="button"
              className="min-w-0 truncate text-left"
              aria-pressed={chosen}
              onClick={() => onChoose(layer.id)}
            >
              {hit?.name}{' '}
              <span className="text-[12px] text-soft">
                {hit && hit.members.length > 0
                  ? `${hit.members.length} layers`
                  : recording && hit
                    ? `${recording.title} at ${(hit.startFrame / recording.sampleRate).toFixed(2)} s`
                    : ''}
              </span>
            </button>
            <span className="figure text-right text-[12px]">{minus(layer.levelDb.toFixed(1))} dB</span>
            <span className="figure text-right text-[12px]">{minus(String(layer.semitones))} st</span>
            {layers.length > 1 && (
              <button
                type="button"
                className="rounded text-soft hover:text-madder"
                aria-label={`Take ${hit?.name} off the pad`}
                onClick={() => onRemove(layer)}
              >
                ×
              </button>
            )}
          </div>
        );
      })}
    </div>
  );
}

/** What lies on a pad, counted: "3 takes, 1 layer under them". */
function namesOf(takes: number, others: number): string {
  if (takes <= 1) return others > 0 ? `${others + 1} layers` : 'Layer';
  return others > 0 ? `${takes} takes, ${others} ${others === 1 ? 'layer' : 'layers'} under them` : `${takes} takes`;
}
