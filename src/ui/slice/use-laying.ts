import { useQueryClient } from '@tanstack/react-query';
import { toast } from 'sonner';
import type { CutView, RecordingView } from '@/contract/views';
import { PAD_COUNT } from '@/core/kit/model';
import type { MarkedStretch } from '@/picture/span';
import { applyToKit } from '../data/apply';
import { useCommands } from '../data/commit';
import { keys } from '../data/queries';
import { useKitDesk } from '../pads/kit-context';
import { fillPads, type Stretch } from '../pads/laying';
import { markedStretchOf, stretchOf } from './Handles';
import type { StoredSlice } from './use-marks';
import type { Selection } from './use-selection';

export interface Laying {
  /** The chosen slice or marked stretch to the next free pad. */
  readonly lay: () => void;
  /** The same to one pad; what lay there leaves it, and can be brought back. */
  readonly layOn: (position: number) => void;
  /** All slices, or those chosen where they are several, to the free pads in order. */
  readonly fill: () => void;
}

/** Ways from the wave to the kit's pads besides dragging. */
export function useLaying(
  view: CutView,
  slices: readonly StoredSlice[],
  { chosen, index, ids }: Selection<StoredSlice>,
  stretch: MarkedStretch | null,
): Laying {
  const { recording } = view;
  const pad = view.cut?.pad;
  const client = useQueryClient();
  const { commit } = useCommands();
  const kit = useKitDesk();
  const wanted = (): Stretch | null => {
    if (stretch) return markedStretchOf(recording, stretch, pad);
    return chosen ? stretchOf(recording, chosen, index + 1, pad) : null;
  };
  return {
    lay: () => {
      const sound = wanted();
      if (sound) kit.lay(sound, null, 'next');
    },
    layOn: (position) => {
      const sound = wanted();
      if (!sound) {
        toast('Choose a slice first, or mark a stretch; Shift and a pad’s key then lay it there.');
        return;
      }
      const there = kit.view?.pads.find((p) => p.position === position);
      if (kit.lay(sound, position, 'instead') !== null && there)
        toast(`Laid instead of ${there.name}; Ctrl Z brings it back.`);
    },
    fill: () => {
      if (!kit.view) {
        toast('Make a kit first: there is none to fill.');
        return;
      }
      const recordings = client.getQueryData<RecordingView[]>(keys.recordings) ?? [recording];
      const free = PAD_COUNT - kit.view.pads.length;
      const sounds = slices.flatMap((s, i) =>
        ids.size > 1 && !ids.has(s.id) ? [] : [stretchOf(recording, s, i + 1, pad)],
      );
      const changes = fillPads(
        kit.view,
        sounds,
        () => crypto.randomUUID(),
        (v, c) => applyToKit(v, c, recordings),
      );
      if (changes.length === 0) {
        toast('All 32 pads have a sound. Make a new kit to fill.');
        return;
      }
      void commit(`filled the pads from ${recording.title}`, changes);
      if (sounds.length > free) toast(`${free} slices laid; ${sounds.length - free} more did not fit on the 32 pads.`);
    },
  };
}
