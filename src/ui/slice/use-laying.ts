import type { CutView } from '@/contract/views';
import type { MarkedStretch } from '@/picture/span';
import { useKitDesk } from '../pads/kit-context';
import type { Stretch } from '../pads/laying';
import { tell } from '../parts/notice';
import type { ShelvedSlice } from '../shelves/use-heard';
import { markedStretchOf, stretchOf } from './stretches';
import type { StoredSlice } from './use-marks';
import type { Selection } from './use-selection';

export interface Laying {
  /** Lays the chosen slice or marked stretch on the next free pad. */
  readonly lay: () => void;
  /** Lays it on one pad; a sound there is replaced, which can be undone. */
  readonly layOn: (position: number) => void;
  /** Lays all slices, or the chosen ones where they are several, on free pads in order. */
  readonly fill: () => void;
}

/** Ways from the wave to the kit's pads besides dragging. */
export function useLaying(
  view: CutView,
  slices: readonly StoredSlice[],
  { chosen, index, ids }: Selection<StoredSlice>,
  stretch: MarkedStretch | null,
  heard: ReadonlyMap<string, ShelvedSlice>,
): Laying {
  const { recording } = view;
  const pad = view.cut?.pad;
  const kit = useKitDesk();
  const wanted = (): Stretch | null => {
    if (stretch) return markedStretchOf(recording, stretch, pad);
    return chosen ? stretchOf(recording, chosen, index + 1, pad, heard.get(chosen.id)) : null;
  };
  return {
    lay: () => {
      const sound = wanted();
      if (sound) kit.lay(sound, null, 'next');
    },
    layOn: (position) => {
      const sound = wanted();
      if (!sound) {
        tell('Choose a slice first, or mark a stretch; Shift and a pad’s key then lay it there.');
        return;
      }
      const there = kit.view?.pads.find((p) => p.position === position);
      if (kit.lay(sound, position, 'instead') !== null && there)
        tell(`Laid instead of ${there.name}; Ctrl Z brings it back.`);
    },
    fill: () => {
      const sounds = slices.flatMap((s, i) =>
        ids.size > 1 && !ids.has(s.id) ? [] : [stretchOf(recording, s, i + 1, pad, heard.get(s.id))],
      );
      kit.layAll(sounds, 'role', `filled the pads from ${recording.title}`);
    },
  };
}
