'use client';

import { useEffect, useState } from 'react';
import type { Stored } from '@/contract/documents';
import type { KitView } from '@/contract/views';
import type { Bus } from '@/core/kit/model';
import type { LiveStep } from '@/core/treatment/live';
import { minus } from '../../parts/figures';
import { complain } from '../../parts/notice';
import { useStore } from '../../parts/store';
import { heardBefore } from '../../sound/heard-before';
import { openSound } from '../../sound/open-sound';

/** Has the bus heard as it is before a step, as loud as it is after it, until it is pressed again. */
export function HeardBefore({ view, bus, step }: { view: KitView; bus: Stored<Bus>; step: Stored<LiveStep> }) {
  const heard = useStore(heardBefore);
  const [busy, setBusy] = useState(false);
  const isHeard = heard?.stepId === step.id;
  useEffect(() => () => heardBefore.set(null), []);
  const toggle = async () => {
    if (isHeard) return heardBefore.set(null);
    setBusy(true);
    try {
      const sound = await openSound();
      const pads = view.pads.filter(({ busId }) => busId === bus.id).map(({ position }) => position);
      const steps = view.busSteps.filter(({ busId }) => busId === bus.id);
      const gainDb = await sound.matchedGain(pads, bus, steps, step.id);
      heardBefore.set({ busId: bus.id, stepId: step.id, gainDb });
    } catch (error) {
      complain((error as Error).message);
    } finally {
      setBusy(false);
    }
  };
  return (
    <span className="flex items-center gap-2 text-[12px]">
      <button
        type="button"
        aria-pressed={isHeard}
        disabled={busy}
        title="Without the step, at the loudness that the bus has with it"
        className={isHeard ? 'font-semibold text-madder' : 'text-verdigris hover:underline'}
        onClick={() => void toggle()}
      >
        {isHeard ? 'heard before it' : busy ? 'listening …' : 'hear before it'}
      </button>
      {isHeard && (
        <span className="figure text-soft">
          {minus(`${heard.gainDb >= 0 ? '+' : ''}${heard.gainDb.toFixed(1)}`)} dB, as loud
        </span>
      )}
    </span>
  );
}
