'use client';

import { useState } from 'react';
import type { KitView } from '@/contract/views';
import type { Kit } from '@/core/kit/model';
import { KIT_PARAMETERS } from '@/core/kit/parameters';
import { useCommands } from '../data/commit';
import { dropDraft, setDraft } from '../data/drafts';
import { ParameterRows } from '../parts/ParameterRows';
import { SmallTabs } from '../parts/SmallTabs';
import { AboutKit } from './AboutKit';
import { KitOutput } from './KitOutput';
import { KeyView } from './key/KeyView';
import { LayoutRows } from './LayoutRows';
import { TempoSources } from './TempoSources';
import { VersionRows } from './VersionRows';

/** What applies to the whole kit, and its output: limiter, level, loudness, latency. */
export function WholeKit({ view }: { view: KitView }) {
  const { commit } = useCommands();
  const { kit } = view;
  const [tab, setTab] = useState<'key' | 'versions' | 'velocity'>('key');
  const set = (said: string, fields: Partial<Kit>) => {
    void commit(`changed the ${said} of the kit ${kit.name}`, [
      { op: 'update', doc: 'kit', id: kit.id, rev: kit.rev, set: fields },
    ]);
    dropDraft('kit', kit.id);
  };
  const preview = (key: string, value: unknown) =>
    value === null ? dropDraft('kit', kit.id) : setDraft('kit', kit.id, { [key]: value });
  return (
    <>
      <section aria-label="Whole kit" className="w-[36%] min-w-0 overflow-auto border-line border-r px-4 py-2">
        <h2
          className="font-semibold text-[12px] text-soft"
          title="Level, transposition, attack and tails come on top of what each pad has; loops in tempo and oscillators in note values follow the tempo"
        >
          All pads
        </h2>
        <ParameterRows of={KIT_PARAMETERS} keys={['tempoBpm']} values={kit} onPreview={preview} onSet={set} />
        <TempoSources view={view} onTempo={(tempoBpm) => set(KIT_PARAMETERS.tempoBpm.said, { tempoBpm })} />
        <ParameterRows
          of={KIT_PARAMETERS}
          keys={['transpose', 'levelDb', 'attackMs', 'tailMs', 'evenVelocity', 'velocityCurve']}
          values={kit}
          onPreview={preview}
          onSet={set}
        />
        <LayoutRows view={view} />
      </section>
      <section aria-label="Output" className="w-[32%] min-w-0 overflow-auto border-line border-r px-4 py-2">
        <h2 className="font-semibold text-[12px] text-soft">Output</h2>
        <ParameterRows of={KIT_PARAMETERS} keys={['limiter']} values={kit} onSet={set} />
        <KitOutput limits={kit.limiter} />
        <AboutKit kit={kit} onSet={set} />
      </section>
      <section aria-label="Key, versions, velocity" className="flex min-w-0 flex-1 flex-col px-4 py-2">
        <SmallTabs
          label="What of all pads"
          tabs={[
            ['key', 'Key and roots', 'The kit’s key, and how far each pad that has a pitch stands off it'],
            ['versions', 'Versions', 'Kept on purpose, to compare with and to go back to'],
            ['velocity', 'Velocity', 'What a stroke of each velocity sounds as'],
          ]}
          shown={tab}
          onShow={setTab}
        />
        {tab === 'key' && <KeyView view={view} onSet={set} />}
        {tab === 'versions' && <VersionRows view={view} />}
        {tab === 'velocity' && <Curve kit={kit} />}
      </section>
    </>
  );
}

/** Which velocity a stroke of each velocity gets. */
function Curve({ kit }: { kit: Kit }) {
  const points = Array.from({ length: 64 }, (_, i) => {
    const x = i / 63;
    const y = kit.evenVelocity === null ? x ** (4 ** -kit.velocityCurve) : kit.evenVelocity / 127;
    return `${(4 + x * 192).toFixed(1)},${(96 - y * 92).toFixed(1)}`;
  });
  return (
    <svg
      viewBox="0 0 200 100"
      className="mt-1 min-h-0 w-full max-w-[420px] flex-1 border border-line"
      preserveAspectRatio="none"
      role="img"
      aria-label={`A stroke of 64 sounds as ${outOf(kit, 64)}`}
    >
      <polyline points="4,96 196,4" className="fill-none stroke-line" vectorEffect="non-scaling-stroke" />
      <polyline
        points={points.join(' ')}
        className="fill-none stroke-verdigris"
        strokeWidth={2}
        vectorEffect="non-scaling-stroke"
      />
    </svg>
  );
}

function outOf(kit: Kit, velocity: number): number {
  return kit.evenVelocity ?? Math.max(1, Math.round(127 * (velocity / 127) ** (4 ** -kit.velocityCurve)));
}
