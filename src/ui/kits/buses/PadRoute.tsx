'use client';

import type { Stored } from '@/contract/documents';
import type { KitView } from '@/contract/views';
import type { Pad } from '@/core/kit/model';
import { PAD_PARAMETERS } from '@/core/kit/parameters';
import { useCommands } from '../../data/commit';
import { dropDraft } from '../../data/drafts';
import { Choice } from '../../parts/Choice';
import { ParameterRows } from '../../parts/ParameterRows';
import type { PadEdits } from '../pad/use-pad-edits';
import { newBus, onto, type SendKey, sendTo } from './bus-edits';

const NEW = 'new';
const SENDS: readonly SendKey[] = ['roomSendDb', 'echoSendDb'];

/** Where a pad's sound goes after its steps: its bus, and what it sends to the kit's room and echo. */
export function PadRoute({ view, pad, edits }: { view: KitView; pad: Stored<Pad>; edits: PadEdits }) {
  const { commit } = useCommands();
  const buses = view.buses.filter(({ kind }) => kind === 'bus');
  const goTo = (busId: string) => {
    const made = busId === NEW ? newBus(view, 'bus', () => crypto.randomUUID()) : null;
    const wanted = made?.id ?? (busId === '' ? null : busId);
    void commit(`changed the bus of ${pad.name}`, [...(made?.changes ?? []), ...onto([pad], wanted)]);
  };
  const send = (key: SendKey, db: number | null) => {
    dropDraft('pad', pad.id);
    void commit(
      `changed what ${pad.name} sends`,
      sendTo(view, pad, key, db, () => crypto.randomUUID()),
    );
  };
  return (
    <section aria-label="Where it goes" className="mt-2">
      <h3 className="font-semibold text-[12px] text-soft">Then</h3>
      <div className="flex min-h-[26px] items-center gap-2 border-line border-b">
        <span className="w-[116px] flex-none">Bus</span>
        <Choice
          label="Bus"
          value={buses.some(({ id }) => id === pad.busId) ? (pad.busId ?? '') : ''}
          options={[['', 'straight out'], ...buses.map(({ id, name }) => [id, name] as const), [NEW, 'a new bus']]}
          onChoose={goTo}
        />
      </div>
      <ParameterRows
        of={PAD_PARAMETERS}
        keys={SENDS}
        values={pad}
        onPreview={(key, value) => edits.turn(value === null ? null : { [key]: value })}
        onSet={(_, set) => {
          for (const key of SENDS) if (key in set) send(key, set[key] ?? null);
        }}
      />
    </section>
  );
}
