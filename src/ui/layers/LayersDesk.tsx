'use client';

import { useEffect, useRef, useState } from 'react';
import type { HitView, RecordingView, ResolvedMember } from '@/contract/views';
import type { Member } from '@/core/layering/model';
import { clampSpan } from '@/picture/span';
import { useCommands } from '../data/commit';
import { Bench } from '../pads/Bench';
import { useSize } from '../parts/canvas';
import { useSpan } from '../parts/use-span';
import { AddingView } from './AddingView';
import { type Axis, aroundAttack, attackOf, axisOf } from './axis';
import { setMember } from './edits';
import { InKit } from './InKit';
import { LaneHeads } from './LaneHeads';
import { Lanes, laneHeights } from './Lanes';
import { LayerPanel } from './LayerPanel';
import { LayersHead } from './LayersHead';
import { ShareView } from './ShareView';
import type { LayersTab } from './tabs';
import { useBuilding } from './use-building';
import { useLanes } from './use-lanes';
import { useLayersKeys } from './use-layers-keys';

interface LayersDeskProps {
  readonly hit: HitView;
  readonly recording: RecordingView;
  /** The library, for other layers. */
  readonly hits: readonly HitView[];
}

/** Until the kit has a tempo of its own. */
const USUAL_BPM = 120;

/** The layers of a layered hit on one axis, whether they add, and how they share the spectrum. */
export function LayersDesk({ hit, recording, hits }: LayersDeskProps) {
  const { commit } = useCommands();
  const [chosenId, setChosenId] = useState<string | undefined>(hit.members[0]?.id);
  const [tab, setTab] = useState<LayersTab>('adding');
  const [tempoBpm, setTempoBpm] = useState(USUAL_BPM);
  const building = useBuilding(hit, recording, tempoBpm);
  const { heard, added, levels, inspected } = building;
  const { sounds, error } = useLanes(heard, recording);
  const chosen = hit.members.find(({ id }) => id === chosenId) ?? hit.members[0];

  const box = useRef<HTMLDivElement>(null);
  const { height } = useSize(box);
  const [axis, setAxis] = useState<Axis | null>(null);
  // The axis stays where it is while layers are moved on it; another set of layers has another.
  const which = hit.members.map(({ id, hitId }) => `${id} ${hitId}`).join();
  // biome-ignore lint/correctness/useExhaustiveDependencies: the members stand for the hit
  useEffect(() => {
    if (sounds && hit.members.every(({ id }) => sounds.lanes.has(id))) setAxis(axisOf(hit, sounds));
  }, [which, sounds]);
  const spans = useSpan(box, axis?.frames ?? 1);
  const sampleRate = sounds?.sampleRate ?? recording.sampleRate;
  // biome-ignore lint/correctness/useExhaustiveDependencies: once for each axis; what is moved on it moves no view
  useEffect(() => {
    if (!axis || !sounds) return;
    const { from, to } = aroundAttack(axis, attackOf(hit, sounds), sampleRate);
    const width = spans.width();
    spans.set(() => clampSpan({ start: from, framesPerPixel: (to - from) / width }, width, axis.frames));
  }, [axis, spans, sampleRate]);

  const set = (member: ResolvedMember, said: string, values: Partial<Member>) =>
    void commit(`${said} in ${hit.name}: ${member.hit.name}`.slice(0, 200), [setMember(member, values)]);
  const move = (member: ResolvedMember, offsetFrames: number) =>
    void commit(`moved ${member.hit.name} by ${offsetFrames - member.offsetFrames} samples in ${hit.name}`, [
      setMember(member, { offsetFrames }),
    ]);
  useLayersKeys({ hit, hits, recording, building, chosen, sampleRate, onChoose: setChosenId, onMove: move });
  const heights = laneHeights(height, hit.members.length);
  return (
    <>
      <LayersHead
        {...{ hit, recording, hits, building, sampleRate, tempoBpm, setTempoBpm }}
        onShare={() => setTab('sharing')}
      />
      <div className="flex min-h-0 flex-1">
        <LaneHeads
          {...{ hit: heard, heights, levels, inspected }}
          chosen={chosen?.id}
          lostDb={added?.lostDb ?? null}
          onChoose={setChosenId}
          onSet={set}
        />
        <Lanes {...{ box, hit: heard, sounds, axis, spans }} chosen={chosen?.id} onChoose={setChosenId} onMove={move} />
      </div>
      {error && (
        <p role="alert" className="flex-none bg-sheet px-4 py-1 text-madder">
          The layers could not be rendered: {error}
        </p>
      )}
      <div className="flex h-[clamp(190px,28vh,222px)] flex-none border-line border-t bg-sheet">
        <div className="min-w-0 flex-1 border-line border-r p-2">
          {tab === 'adding' && <AddingView {...{ hit, added }} onTab={setTab} />}
          {tab === 'sharing' && <ShareView {...{ hit, recording }} onTab={setTab} />}
          {tab === 'kit' && <InKit {...{ hit, recording }} onTab={setTab} />}
        </div>
        {chosen && <LayerPanel {...{ hit, building }} member={chosen} onSet={set} />}
      </div>
      <Bench />
    </>
  );
}
