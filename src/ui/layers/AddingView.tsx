import dynamic from 'next/dynamic';
import type { HitView } from '@/contract/views';
import { THIRD_OCTAVE_NAMES } from '@/core/layering/bands';
import type { Added, LostBand } from '@/worker/layers';
import { decibels } from '../parts/figures';
import { type LayersTab, Tabs } from './tabs';

const BandChart = dynamic(() => import('./BandChart').then((m) => m.BandChart), { ssr: false });

/** Whether the layers add: their sum against their own powers by third octave, and what costs it most. */
export function AddingView({
  hit,
  added,
  onTab,
}: {
  hit: HitView;
  added: Added | null;
  onTab: (tab: LayersTab) => void;
}) {
  const worst = added?.lost.reduce<LostBand | null>((most, one) => (most && most.db <= one.db ? most : one), null);
  const others = (added?.lost.length ?? 0) - 1;
  return (
    <div className="flex h-full flex-col" data-testid="adding">
      <div className="flex gap-4">
        <Tabs tab="adding" onTab={onTab} />
        <p className={`ml-auto truncate text-[12px] ${worst ? 'text-madder' : 'text-soft'}`} role="status">
          {!added
            ? 'Listening …'
            : worst
              ? `${lostText(hit, worst)}${others > 0 ? ` · ${others} more` : ''}`
              : 'No band loses more than 3 dB.'}
        </p>
      </div>
      <div className="min-h-0 flex-1">{added && <BandChart bands={added.bands} />}</div>
    </div>
  );
}

/** A lost band in words: "250 Hz loses 3.4 dB: Sluice low lies 152° off Kick barrel". */
function lostText({ members }: HitView, { band, db, cause }: LostBand): string {
  const lost = `${THIRD_OCTAVE_NAMES[band]} Hz loses ${decibels(-db)}`;
  const [a, b] = cause?.layers.map((n) => members[n]?.hit.name) ?? [];
  return cause && a && b ? `${lost}: ${b} lies ${Math.round(cause.degrees)}° off ${a}` : lost;
}
