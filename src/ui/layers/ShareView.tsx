import { type PointerEvent, useRef, useState } from 'react';
import type { HitView, RecordingView } from '@/contract/views';
import { bandLevels, sourceKey } from '@/core/hit/key';
import { MOST_EDGES, OUT_DB } from '@/core/layering/parameters';
import { hzToX, xToHz } from '@/picture/frequency';
import { drawShares } from '@/picture/shares';
import { useCommands } from '../data/commit';
import { dropDraft, setDraft } from '../data/drafts';
import { beginDrawing, useDrawing, usePalette, useSize } from '../parts/canvas';
import { answered, useAnswer } from '../sound/use-answer';
import { setMember, sharedChanges, unsharedChanges } from './edits';
import { ShareGrid } from './ShareGrid';
import { type LayersTab, Tabs } from './tabs';

/** Edges lie at least this factor apart. */
const LEAST_APART = 1.2;
/** How near the pointer must be to take hold of an edge, in pixels. */
const NEAR = 10;

/** The spectra of the layers, the edges between their bands, and how much of each band each layer has. */
export function ShareView({
  hit,
  recording,
  onTab,
}: {
  hit: HitView;
  recording: RecordingView;
  onTab: (tab: LayersTab) => void;
}) {
  const { commit } = useCommands();
  const { edgesHz, members } = hit;
  const whole = { ...hit, edgesHz: [] };
  const sharing = answered(useAnswer(sourceKey(whole), (samples) => samples.sharing(hit, recording))).value;
  const box = useRef<HTMLDivElement>(null);
  const canvas = useRef<HTMLCanvasElement>(null);
  const { width, height } = useSize(box);
  const palette = usePalette();
  const [held, setHeld] = useState<number | null>(null);
  useDrawing(() => {
    if (!canvas.current || width === 0 || !sharing) return;
    const scene = { spectra: sharing.spectra, edgesHz, chosen: -1 };
    drawShares(beginDrawing(canvas.current, width, height), scene, width, height, palette);
  }, [width, height, palette, sharing, edgesHz]);

  const setEdges = (edges: readonly number[], said: string) =>
    commit(`${said} of ${hit.name}`, [{ op: 'update', doc: 'hit', id: hit.id, rev: hit.rev, set: { edgesHz: edges } }]);
  const xOf = (event: PointerEvent) => event.clientX - (box.current as HTMLDivElement).getBoundingClientRect().left;
  const movedTo = (event: PointerEvent): number[] => {
    const low = (edgesHz[(held ?? 0) - 1] ?? 20 / LEAST_APART) * LEAST_APART;
    const high = (edgesHz[(held ?? 0) + 1] ?? 16_000 * LEAST_APART) / LEAST_APART;
    const hz = Math.round(Math.max(low, Math.min(high, xToHz(xOf(event), width))));
    return edgesHz.map((edge, n) => (n === held ? hz : edge));
  };
  const begin = (event: PointerEvent<HTMLDivElement>) => {
    const away = edgesHz.map((hz) => Math.abs(hzToX(hz, width) - xOf(event)));
    const nearest = away.indexOf(Math.min(...away));
    if (nearest < 0 || (away[nearest] as number) > NEAR) return;
    setHeld(nearest);
    event.currentTarget.setPointerCapture(event.pointerId);
  };
  const finish = (event: PointerEvent) => {
    if (held === null) return;
    void setEdges(movedTo(event), 'moved an edge');
    dropDraft('hit', hit.id);
    setHeld(null);
  };
  const propose = () => {
    if (sharing) void commit(`shared the spectrum of ${hit.name}`, sharedChanges(hit, sharing.proposed));
  };
  const add = () => {
    const ends = [40, ...edgesHz, 12_000];
    const widths = ends.slice(1).map((hz, n) => hz / (ends[n] as number));
    const at = widths.indexOf(Math.max(...widths));
    const edge = Math.round(Math.sqrt((ends[at] as number) * (ends[at + 1] as number)));
    const edges = [...edgesHz, edge].sort((a, b) => a - b);
    // The band that is cut in two keeps its levels in both parts.
    const levels = members.map((member) => bandLevels(member, edgesHz));
    void commit(`cut a band of ${hit.name} in two`, [
      { op: 'update', doc: 'hit', id: hit.id, rev: hit.rev, set: { edgesHz: edges } },
      ...members.map((member, n) => {
        const own = levels[n] as number[];
        return setMember(member, { bandsDb: [...own.slice(0, at + 1), ...own.slice(at)] });
      }),
    ]);
  };
  const setBand = (place: number, band: number, db: number) => {
    const member = members[place];
    if (!member) return;
    const bandsDb = bandLevels(member, edgesHz).map((was, b) => (b === band ? db : was));
    const said = db === 0 ? 'full' : db <= OUT_DB ? 'out' : 'faded';
    void commit(`${member.hit.name} is ${said} in a band of ${hit.name}`, [setMember(member, { bandsDb })]);
  };
  return (
    <div className="flex h-full flex-col" data-testid="sharing">
      <div className="flex items-center gap-3 text-[12px]">
        <Tabs tab="sharing" onTab={onTab} />
        <span className="ml-auto" />
        <button type="button" className="text-verdigris hover:underline" disabled={!sharing} onClick={propose}>
          {edgesHz.length === 0 ? 'share' : 'propose anew'}
        </button>
        {edgesHz.length < MOST_EDGES && (
          <button type="button" className="text-verdigris hover:underline" onClick={add}>
            one edge more
          </button>
        )}
        {edgesHz.length > 0 && (
          <button
            type="button"
            className="text-verdigris hover:underline"
            onClick={() => void commit(`${hit.name}: every layer has the whole spectrum`, unsharedChanges(hit))}
          >
            do not share
          </button>
        )}
      </div>
      <div className="mt-1 flex min-h-0 flex-1 gap-2">
        <div
          ref={box}
          className="relative min-w-0 flex-1 cursor-ew-resize touch-none"
          onPointerDown={begin}
          onPointerMove={(event) => held !== null && setDraft('hit', hit.id, { edgesHz: movedTo(event) })}
          onPointerUp={finish}
          onPointerCancel={finish}
        >
          <canvas
            ref={canvas}
            className="absolute inset-0"
            aria-label="Spectra of the layers"
            style={{ width, height }}
          />
        </div>
        {edgesHz.length > 0 && <ShareGrid hit={hit} onSet={setBand} />}
      </div>
    </div>
  );
}
