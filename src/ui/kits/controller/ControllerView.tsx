'use client';

import type { KitView } from '@/contract/views';
import { Inputs } from './Inputs';
import { JustPlayed } from './JustPlayed';
import { SimulatedDevice } from './SimulatedDevice';

/** Playing by a controller: inputs and what they do at the left, the simulated one in the middle, what was played at the right. */
export function ControllerView({ view }: { view: KitView }) {
  return (
    <>
      <section aria-label="Controllers" className="w-[30%] min-w-0 overflow-auto border-line border-r px-4 py-2">
        <Inputs view={view} />
      </section>
      <section
        aria-label="Simulated controller"
        className="flex w-[36%] min-w-0 flex-col border-line border-r px-4 py-2"
      >
        <SimulatedDevice />
      </section>
      <section aria-label="Just played" className="flex min-w-0 flex-1 flex-col px-4 py-2">
        <JustPlayed view={view} />
      </section>
    </>
  );
}
