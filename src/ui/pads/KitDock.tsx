'use client';

import Link from 'next/link';
import { memo } from 'react';
import { isLayered } from '@/core/hit/key';
import { KIT_PADS } from '@/core/play/limits';
import { useKits } from '../data/queries';
import { Choice } from '../parts/Choice';
import { useKitDesk } from './kit-context';
import { PadGrid } from './PadGrid';
import { useKitsHeard } from './use-kits-heard';

/** The current kit, docked under every page: its name, and its pads as drop targets and to play. */
export const KitDock = memo(function KitDock() {
  const { view, choose, createKit, chosen, picker, setPicker } = useKitDesk();
  const pad = view?.pads.find((p) => p.position === chosen);
  const layer = view?.layers.find((l) => l.padId === pad?.id);
  const hit = view?.hits.find((h) => h.id === layer?.hitId);
  const kits = useKits();
  const heard = useKitsHeard(view?.kit.id, choose);
  if (kits.data && kits.data.length === 0) {
    return (
      <div className="flex h-full flex-col items-center justify-center gap-2">
        <p className="text-soft">There is no kit yet. Make one, and drop slices on its pads.</p>
        <button type="button" className="quiet-button" onClick={() => void createKit('First kit')}>
          Make a kit
        </button>
      </div>
    );
  }
  return (
    <section aria-label="Kit" className="flex h-full flex-col pb-2">
      <header className="flex h-8 flex-none items-center gap-2 px-3">
        <Choice
          label="Current kit"
          className="max-w-[220px] font-semibold"
          value={view?.kit.id}
          options={(kits.data ?? []).map((k) => [k.id, k.name] as const)}
          onChoose={heard.take}
          onGoOver={heard.goOver}
        />
        <span className="text-[12px] text-soft">
          kit · {new Set(view?.layers.map(({ padId }) => padId)).size} of {KIT_PADS} pads
        </span>
        {hit && (
          <Link
            href={
              isLayered(hit)
                ? `/hits/${hit.id}/layers`
                : hit.voice
                  ? `/hits/${hit.id}`
                  : `/slice/${hit.recordingId}?hit=${hit.id}`
            }
            className="ml-auto truncate text-[12px] text-verdigris hover:underline"
            title={isLayered(hit) ? 'What it is the sum of' : 'Its edges on its recording, with the loupes'}
          >
            {isLayered(hit) ? `Layers of ${pad?.name}` : hit.voice ? `Voice of ${pad?.name}` : `Cut ${pad?.name}`}
          </Link>
        )}
        <button
          type="button"
          aria-pressed={picker}
          className={`${hit ? '' : 'ml-auto'} text-[12px] ${picker ? 'font-semibold text-verdigris' : 'text-soft hover:text-ink'}`}
          title="F6"
          onClick={() => setPicker(!picker)}
        >
          Picker
        </button>
        <Link href="/kits" className="text-[12px] text-verdigris hover:underline">
          Open on Kits
        </Link>
      </header>
      <div className="min-h-0 flex-1">
        <PadGrid size="docked" />
      </div>
    </section>
  );
});
