'use client';

import type { Stored } from '@/contract/documents';
import type { KitView, RecordingView, StoredHit } from '@/contract/views';
import { noteOf, noteOfPlace } from '@/core/kit/layout';
import type { Pad } from '@/core/kit/model';
import { PAD_PARAMETERS } from '@/core/kit/parameters';
import { FamilySelect } from '../../parts/FamilySelect';
import { useNoteName } from '../../parts/note-names';
import { Parameter } from '../../parts/Parameter';
import { ParameterRows } from '../../parts/ParameterRows';
import { LoopRows } from './LoopRows';
import { RootRow } from './RootRow';
import type { PadEdits } from './use-pad-edits';

/** How strokes play a pad: mode, voices, chokes, note. */
export function PlayingRows({
  view,
  pad,
  hit,
  recording,
  edits,
}: {
  view: KitView;
  pad: Stored<Pad>;
  hit: StoredHit | undefined;
  recording: RecordingView | undefined;
  edits: PadEdits;
}) {
  const noteName = useNoteName();
  const twice = sameNote(view, pad);
  return (
    <section aria-label="Playing">
      <h2 className="mt-2 font-semibold text-[12px] text-soft">Playing</h2>
      <ParameterRows
        of={PAD_PARAMETERS}
        keys={['mode', 'voices', 'chokeGroup', ...(pad.chokeGroup > 0 ? (['chokeMs'] as const) : [])]}
        values={pad}
        onPreview={(key, value) => edits.turn(value === null ? null : { [key]: value })}
        onSet={edits.set}
      />
      {hit && recording && <LoopRows {...{ pad, hit, recording, edits }} tempoBpm={view.kit.tempoBpm} />}
      {pad.chokeGroup > 0 && <p className="py-1 text-[12px] text-soft">{chokeText(view, pad)}</p>}
      <Parameter
        of={PAD_PARAMETERS.note}
        unit={noteName(noteOf(pad))}
        value={noteOf(pad)}
        initial={noteOfPlace(pad.position)}
        standsIn={pad.note === null}
        onCommit={(note) =>
          edits.set(PAD_PARAMETERS.note.said, { note: note === noteOfPlace(pad.position) ? null : note })
        }
      />
      {hit && recording && <RootRow {...{ pad, hit, recording, edits }} kit={view.kit} />}
      {twice && <p className="py-1 text-[12px] text-madder">{twice}</p>}
      <div className="flex h-[26px] items-center gap-2 border-line border-b">
        <span className="w-[104px] flex-none">Family</span>
        <FamilySelect label="Family" value={pad.family} onChoose={(family) => edits.set('family', { family })} />
      </div>
    </section>
  );
}

function chokeText(view: KitView, pad: Stored<Pad>): string {
  const others = view.pads.filter((p) => p.id !== pad.id && p.chokeGroup === pad.chokeGroup).map((p) => p.name);
  return others.length === 0
    ? 'Alone in its group: a new strike cuts the one before.'
    : `Cuts, and is cut by, ${others.join(', ')}.`;
}

/** Names other pads on the same note; empty where there are none. */
function sameNote(view: KitView, pad: Stored<Pad>): string {
  const others = view.pads.filter((p) => p.id !== pad.id && noteOf(p) === noteOf(pad)).map((p) => p.name);
  return others.length === 0 ? '' : `This note plays ${others.join(', ')} as well.`;
}
