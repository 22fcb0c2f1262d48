'use client';

import { useState } from 'react';
import type { Stored } from '@/contract/documents';
import type { RecordingView, StoredHit } from '@/contract/views';
import { isLayered } from '@/core/hit/key';
import type { Pad } from '@/core/kit/model';
import { SmallTabs } from '../../parts/SmallTabs';
import { useMedia } from '../../parts/use-media';
import { useInspected } from '../../treatment/use-inspected';
import { HitWave } from './HitWave';
import { PadWave, type Shaped } from './PadWave';
import { ShapeFields } from './ShapeFields';
import type { PadEdits } from './use-pad-edits';

type Tab = 'cut' | Shaped;

const TABS: readonly (readonly [Tab, string, string])[] = [
  ['cut', 'Cut', 'Where the hit begins and ends in its recording'],
  ['sample', 'Played', 'Which part of the hit this pad plays, and how it loops'],
  ['level', 'Level', 'The level envelope'],
  ['filter', 'Filter', 'The filter envelope'],
  ['pitch', 'Pitch', 'The pitch envelope'],
];

/** Heights of the wave in CSS pixels; higher windows have room for more of it. */
const [HEIGHT_PX, TALL_PX] = [92, 220];

/** A pad's wave with what is shaped on it, and the figures of that. */
export function Shape({
  pad,
  hit,
  recording,
  edits,
}: {
  pad: Stored<Pad>;
  hit: StoredHit;
  recording: RecordingView;
  edits: PadEdits;
}) {
  const [tab, setTab] = useState<Tab>('level');
  const height = useMedia('(min-height: 960px)') ? TALL_PX : HEIGHT_PX;
  const { value } = useInspected(hit, recording);
  // Until it is rendered a hit is as long as its stretch.
  const seconds = (value?.figures.frames ?? hit.endFrame - hit.startFrame) / recording.sampleRate;
  const tabs = TABS.filter(([name]) => name !== 'cut' || !isLayered(hit));
  const shown = tabs.some(([name]) => name === tab) ? tab : 'level';
  return (
    <div className="flex-none">
      {shown === 'cut' ? (
        <HitWave key={hit.id} hit={hit} recording={recording} height={height} />
      ) : (
        <PadWave {...{ pad, hit, recording, seconds, height, edits }} shaped={shown} />
      )}
      <SmallTabs label="What is shaped" tabs={tabs} shown={shown} onShow={setTab} className="mt-[3px]" />
      {shown !== 'cut' && <ShapeFields {...{ pad, hit, recording, edits }} shaped={shown} />}
    </div>
  );
}
