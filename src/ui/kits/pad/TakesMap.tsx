'use client';

import { type PointerEvent, useEffect, useRef, useState } from 'react';
import type { Stored } from '@/contract/documents';
import type { KitView } from '@/contract/views';
import type { Layer, Pad } from '@/core/kit/model';
import { PAD_PARAMETERS } from '@/core/kit/parameters';
import { drawTakes, type TakeRange, velocityAt, velocityX } from '@/picture/takes';
import { useCommands } from '../../data/commit';
import { dropDraft, setDraft } from '../../data/drafts';
import { Choice } from '../../parts/Choice';
import { beginDrawing, useDrawing, usePalette, useSize } from '../../parts/canvas';
import { followStrikes } from '../../play/door';
import { LayTakes } from './LayTakes';
import { padTakes } from './pad-takes';
import type { PadEdits } from './use-pad-edits';

interface TakesMapProps {
  readonly view: KitView;
  readonly pad: Stored<Pad>;
  readonly layers: readonly Stored<Layer>[];
  readonly chosenId: string | undefined;
  readonly onChoose: (id: string) => void;
  readonly edits: PadEdits;
}

type End = 'lowVelocity' | 'highVelocity';
interface Held {
  readonly layers: readonly Stored<Layer>[];
  readonly end: End;
}

const HEIGHT_PX = 60;
const REACH_PX = 12;

/** The takes of a pad over velocity: an arch for those of one range; its feet are dragged, a click chooses. */
export function TakesMap({ view, pad, layers, chosenId, onChoose, edits }: TakesMapProps) {
  const { commit } = useCommands();
  const box = useRef<HTMLDivElement>(null);
  const canvas = useRef<HTMLCanvasElement>(null);
  const { width } = useSize(box);
  const palette = usePalette();
  const [held, setHeld] = useState<Held | null>(null);
  const struck = useStruck(pad.position);
  const takes = padTakes(layers);
  const groups = groupsOf(takes);
  const ranges = groups.map((group): TakeRange => {
    const [first] = group as [Stored<Layer>];
    return {
      low: first.lowVelocity,
      high: first.highVelocity,
      name: view.hits.find((h) => h.id === first.hitId)?.name ?? 'a hit that is gone',
      takes: group.length,
      isChosen: group.some(({ id }) => id === chosenId),
    };
  });
  useDrawing(() => {
    if (!canvas.current || width === 0) return;
    drawTakes(beginDrawing(canvas.current, width, HEIGHT_PX), ranges, width, HEIGHT_PX, palette, struck);
  }, [width, palette, struck, JSON.stringify(ranges)]);

  const xOf = (event: PointerEvent) => event.clientX - (box.current as HTMLDivElement).getBoundingClientRect().left;
  const take = (x: number): Held | null => {
    const ends = groups.flatMap((group) => {
      const [{ lowVelocity, highVelocity }] = group as [Stored<Layer>];
      return [
        { layers: group, end: 'lowVelocity' as const, away: Math.abs(velocityX(lowVelocity, width) - x) },
        { layers: group, end: 'highVelocity' as const, away: Math.abs(velocityX(highVelocity + 1, width) - x) },
      ];
    });
    const [nearest] = ends.sort((a, b) => a.away - b.away);
    return nearest && nearest.away <= REACH_PX ? nearest : null;
  };
  /** The velocity that an end gets at a position: ranges are never turned round. */
  const valueAt = ({ layers: [first], end }: Held, x: number) => {
    const wanted = velocityAt(end === 'highVelocity' ? x - width / 127 : x, width);
    const { lowVelocity, highVelocity } = first as Stored<Layer>;
    return end === 'lowVelocity' ? Math.min(wanted, highVelocity) : Math.max(wanted, lowVelocity);
  };
  const finish = (x: number) => {
    if (!held) return;
    const value = valueAt(held, x);
    void commit(
      `changed the range of takes of ${pad.name}`,
      held.layers.map(({ id, rev }) => ({ op: 'update', doc: 'layer', id, rev, set: { [held.end]: value } }) as const),
    );
    for (const { id } of held.layers) dropDraft('layer', id);
    setHeld(null);
  };

  return (
    <section aria-label="Takes over velocity" className="flex-none">
      <header className="flex items-center gap-2 text-[12px]">
        <h2 className="font-semibold text-soft">Takes over velocity</h2>
        <span className="ml-auto" />
        {takes.length > 1 && (
          <Choice
            label="Order of takes"
            className="text-verdigris"
            value={pad.takeOrder}
            options={PAD_PARAMETERS.takeOrder.options}
            onChoose={(takeOrder) => edits.set(PAD_PARAMETERS.takeOrder.said, { takeOrder })}
          />
        )}
        <LayTakes view={view} pad={pad} layers={layers} />
      </header>
      <div
        ref={box}
        className="cursor-ew-resize touch-none border border-line"
        style={{ height: HEIGHT_PX }}
        onPointerDown={(event) => {
          const x = xOf(event);
          const grip = take(x);
          const over = groups.find(([first]) => {
            const velocity = velocityAt(x, width);
            return first && velocity >= first.lowVelocity && velocity <= first.highVelocity;
          });
          const chosen = (over ?? [])[((over ?? []).findIndex(({ id }) => id === chosenId) + 1) % (over?.length || 1)];
          if (grip && takes.length > 0) {
            event.currentTarget.setPointerCapture(event.pointerId);
            setHeld(grip);
          } else if (chosen) onChoose(chosen.id);
        }}
        onPointerMove={(event) => {
          if (held) for (const { id } of held.layers) setDraft('layer', id, { [held.end]: valueAt(held, xOf(event)) });
        }}
        onPointerUp={(event) => finish(xOf(event))}
        onPointerCancel={() => {
          for (const { id } of held?.layers ?? []) dropDraft('layer', id);
          setHeld(null);
        }}
      >
        <canvas
          ref={canvas}
          role="img"
          aria-label={ranges
            .map(({ low, high, name, takes: n }) => `${low} to ${high}: ${name}${n > 1 ? `, ${n} takes` : ''}`)
            .join('; ')}
          style={{ width, height: HEIGHT_PX }}
        />
      </div>
    </section>
  );
}

/** Takes of the same range together, softest first. */
function groupsOf(takes: readonly Stored<Layer>[]): Stored<Layer>[][] {
  const groups = new Map<string, Stored<Layer>[]>();
  for (const take of takes) {
    const key = `${take.lowVelocity} ${take.highVelocity}`;
    groups.set(key, [...(groups.get(key) ?? []), take]);
  }
  return [...groups.values()].sort((a, b) => (a[0]?.lowVelocity ?? 0) - (b[0]?.lowVelocity ?? 0));
}

/** The velocity of a pad's last stroke, for a moment; null otherwise. */
function useStruck(position: number): number | null {
  const [struck, setStruck] = useState<number | null>(null);
  useEffect(() => {
    let timer: ReturnType<typeof setTimeout>;
    const unfollow = followStrikes(({ pad, velocity }) => {
      if (pad !== position) return;
      setStruck(velocity);
      clearTimeout(timer);
      timer = setTimeout(() => setStruck(null), 900);
    });
    return () => {
      clearTimeout(timer);
      unfollow();
    };
  }, [position]);
  return struck;
}
