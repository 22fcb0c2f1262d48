import { useMemo, useRef } from 'react';
import type { HitView, KitView, RecordingView } from '@/contract/views';
import { contentKey } from '@/core/hit/key';
import type { Covered } from '@/core/layering/masking';
import { drawMasking } from '@/picture/shares';
import type { StruckSound } from '@/worker/masking';
import { heardLayers, padSum, together } from '../kits/layers';
import { useKitDesk } from '../pads/kit-context';
import { beginDrawing, useDrawing, usePalette, useSize } from '../parts/canvas';
import { answered, useAnswer } from '../sound/use-answer';
import { type LayersTab, Tabs } from './tabs';

interface InKitProps {
  readonly hit: HitView;
  readonly recording: RecordingView;
  readonly onTab: (tab: LayersTab) => void;
}

/** So many ranges are told each way. */
const MOST_TOLD = 4;

/** The layered hit against the other pads of the kit: who covers whom, and where, while both are struck. */
export function InKit({ hit, recording, onTab }: InKitProps) {
  const { view } = useKitDesk();
  const others = useMemo(() => (view ? othersOf(view, hit.id) : []), [view, hit.id]);
  const own: StruckSound = { name: hit.name, hit, recording, levelDb: view ? levelOf(view, hit.id) : 0 };
  const key = JSON.stringify([own, ...others].map((sound) => [contentKey(sound.hit), sound.levelDb, sound.name]));
  const masking = answered(useAnswer(key, (samples) => samples.masking(own, others))).value;
  const box = useRef<HTMLDivElement>(null);
  const canvas = useRef<HTMLCanvasElement>(null);
  const { width, height } = useSize(box);
  const palette = usePalette();
  useDrawing(() => {
    if (!canvas.current || width === 0 || !masking) return;
    const spectra = masking.others.map(({ spectrum }) => spectrum);
    drawMasking(
      beginDrawing(canvas.current, width, height),
      { own: masking.own, others: spectra },
      width,
      height,
      palette,
    );
  }, [width, height, palette, masking]);
  const told = (list: readonly Covered[], how: string) =>
    list.slice(0, MOST_TOLD).map((one) => {
      const name = masking?.others[one.other]?.name;
      return (
        <li key={`${one.other} ${one.fromHz}`} className="truncate">
          {how} {name} · {hertz(one.fromHz)} to {hertz(one.toHz)} Hz · {Math.round(one.db)} dB
        </li>
      );
    });
  return (
    <div className="flex h-full flex-col" data-testid="in-kit">
      <Tabs tab="kit" onTab={onTab} />
      <div className="mt-1 flex min-h-0 flex-1 gap-3">
        <div ref={box} className="relative min-w-0 flex-1">
          <canvas
            ref={canvas}
            className="absolute inset-0"
            aria-label={`Spectrum of ${hit.name} against the strongest of the other pads`}
            style={{ width, height }}
          />
        </div>
        <div className="w-[44%] flex-none overflow-y-auto text-[12px]">
          {!view || others.length === 0 ? (
            <p className="text-soft">The kit has no other pad to compare it with.</p>
          ) : !masking ? (
            <p className="text-soft">Listening …</p>
          ) : masking.by.length + masking.of.length === 0 ? (
            <p className="text-soft">No pad of {view.kit.name} covers it, and it covers none.</p>
          ) : (
            <ul>
              {told(masking.by, 'covered by')}
              {told(masking.of, 'covers')}
            </ul>
          )}
        </div>
      </div>
    </div>
  );
}

function hertz(hz: number): string {
  return hz < 1000 ? String(Math.round(hz)) : `${(hz / 1000).toFixed(1)} k`;
}

/** Every pad that does not play the hit, as one sound. */
function othersOf(view: KitView, hitId: string): StruckSound[] {
  return view.pads.flatMap((pad) => {
    const layers = view.layers.filter((layer) => layer.padId === pad.id);
    const sum = layers.some((layer) => layer.hitId === hitId) ? null : padSum(heardLayers(view, together(layers)), pad);
    return sum ? [{ ...sum, name: pad.name, levelDb: pad.levelDb }] : [];
  });
}

/** The level of the pad that plays the hit; 0 where none does. */
function levelOf(view: KitView, hitId: string): number {
  const layer = view.layers.find((one) => one.hitId === hitId);
  const pad = view.pads.find(({ id }) => id === layer?.padId);
  return (layer?.levelDb ?? 0) + (pad?.levelDb ?? 0);
}
