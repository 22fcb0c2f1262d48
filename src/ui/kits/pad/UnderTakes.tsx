import type { Stored } from '@/contract/documents';
import type { KitView } from '@/contract/views';
import type { Layer, Pad } from '@/core/kit/model';
import { Choice } from '../../parts/Choice';

interface UnderTakesProps {
  readonly view: KitView;
  readonly pad: Stored<Pad>;
  readonly layer: Stored<Layer>;
  readonly onSet: (fields: Partial<Layer>) => void;
}

/** Whether a layer sounds under every take of its pad, or under one of them. */
export function UnderTakes({ view, pad, layer, onSet }: UnderTakesProps) {
  const first = view.layers.find((l) => l.padId === pad.id);
  const takes = [
    ...(first ? [first.hitId] : []),
    ...view.variations.filter((v) => v.padId === pad.id).map((v) => v.hitId),
  ];
  const nameOf = (hitId: string) => view.hits.find((hit) => hit.id === hitId)?.name ?? 'a take that is gone';
  const known = layer.withHitId !== null && !takes.includes(layer.withHitId) ? [layer.withHitId, ...takes] : takes;
  return (
    <div className="flex h-[26px] items-center gap-2 border-line border-b">
      <span className="w-[104px] flex-none">Lies under</span>
      <Choice
        label="Lies under"
        value={layer.withHitId}
        options={[[null, 'every take'], ...known.map((hitId) => [hitId, `only ${nameOf(hitId)}`] as const)]}
        onChoose={(withHitId) => onSet({ withHitId })}
      />
    </div>
  );
}
