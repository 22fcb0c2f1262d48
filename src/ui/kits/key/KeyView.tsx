'use client';

import type { Change } from '@/contract/edits';
import type { KitView } from '@/contract/views';
import { centsToKey, movedBy, tunedToKey } from '@/core/kit/key';
import type { Kit } from '@/core/kit/model';
import { KIT_PARAMETERS } from '@/core/kit/parameters';
import { useCommands } from '../../data/commit';
import { minus, pitch } from '../../parts/figures';
import { Glyph } from '../../parts/Glyph';
import { ParameterRows } from '../../parts/ParameterRows';
import { keyOf, type Tonal, useTonal } from './roots';

/** The kit's key, and the roots of all pads that have one: how far each stands off it, and ways there. */
export function KeyView({ view, onSet }: { view: KitView; onSet: (said: string, fields: Partial<Kit>) => void }) {
  const { commit } = useCommands();
  const { tonal, listens } = useTonal(view);
  const key = keyOf(view.kit);
  const { transpose } = view.kit;
  const tune = (said: string, pads: readonly Tonal[], tuned: (one: Tonal) => { semitones: number; cents: number }) => {
    const changes = pads.flatMap((one): Change[] => {
      const set = tuned(one);
      const isSame = set.semitones === one.pad.semitones && set.cents === one.pad.cents;
      return isSame ? [] : [{ op: 'update', doc: 'pad', id: one.pad.id, rev: one.pad.rev, set }];
    });
    if (changes.length > 0) void commit(said, changes);
  };
  const toKey = (pads: readonly Tonal[]) => {
    const [first] = pads;
    const whom = pads.length === 1 && first ? first.pad.name : `${pads.length} pads`;
    if (key) tune(`tuned ${whom} to the key`, pads, ({ rootHz, pad }) => tunedToKey(rootHz, pad, key, transpose));
  };
  const off = key ? tonal.filter(({ hz }) => Math.abs(centsToKey(hz, key)) >= 0.5) : [];
  return (
    <div className="flex min-h-0 flex-1 flex-col">
      <ParameterRows of={KIT_PARAMETERS} keys={key ? ['tonic', 'scale'] : ['tonic']} values={view.kit} onSet={onSet} />
      {tonal.length === 0 ? (
        <p className="py-2 text-[12px] text-soft">
          {listens
            ? 'Listening for the pitch of each pad …'
            : 'No pad has a pitch that is heard. Where you hear one, set it under “Pitch” when you treat its sound.'}
        </p>
      ) : (
        <>
          <p className="flex items-center gap-3 py-1 text-[12px]">
            {key && (
              <button
                type="button"
                className="text-verdigris hover:underline disabled:text-soft disabled:no-underline"
                disabled={off.length === 0}
                title="Each pad by the least movement"
                onClick={() => toKey(off)}
              >
                {off.length === 0
                  ? 'all in the key'
                  : off.length === 1
                    ? '1 pad to the key'
                    : `${off.length} pads to the key`}
              </button>
            )}
            <span className="ml-auto text-soft">all by</span>
            {[-1, 1].map((semitones) => (
              <button
                key={semitones}
                type="button"
                className="figure rounded border border-line px-1 hover:border-edge"
                onClick={() =>
                  tune(`moved ${tonal.length} pads by ${semitones} semitone`, tonal, ({ pad }) =>
                    movedBy(pad, { semitones, cents: 0 }),
                  )
                }
              >
                {minus(semitones > 0 ? '+1 st' : '-1 st')}
              </button>
            ))}
          </p>
          <ul className="min-h-0 flex-1 overflow-y-auto border-line border-t">
            {tonal.map((one) => (
              <li key={one.pad.id} className="flex h-[26px] items-center gap-2 border-line border-b">
                <Glyph family={one.pad.family} size={13} />
                <span className="min-w-0 flex-1 truncate">{one.pad.role || one.pad.name}</span>
                <span className="figure w-[72px] text-right text-[12px]">{pitch(one.hz)}</span>
                {key && <OffKey cents={centsToKey(one.hz, key)} onTune={() => toKey([one])} />}
              </li>
            ))}
          </ul>
        </>
      )}
    </div>
  );
}

/** How far a pitch stands off the key; a click brings it there. */
export function OffKey({ cents, onTune }: { cents: number; onTune: () => void }) {
  const isIn = Math.abs(cents) < 0.5;
  const whole = Math.round(cents);
  return isIn ? (
    <span className="w-[72px] text-right text-[12px] text-soft">in the key</span>
  ) : (
    <button
      type="button"
      className="figure w-[72px] text-right text-[12px] text-verdigris hover:underline"
      title="What it would be moved by to stand in the key: moves it"
      onClick={onTune}
    >
      {minus(`${whole > 0 ? '+' : ''}${whole}`)} c
    </button>
  );
}
