'use client';

import { useState } from 'react';
import type { Stored } from '@/contract/documents';
import type { KitView } from '@/contract/views';
import { isLayered } from '@/core/hit/key';
import { capOf, noteOf, noteOfPlace } from '@/core/kit/layout';
import type { Layer, Pad } from '@/core/kit/model';
import { LAYER_PARAMETERS, PAD_PARAMETERS } from '@/core/kit/parameters';
import { LONGEST_NAME } from '@/core/naming/names';
import { noteName } from '@/core/signal/units';
import { useCommands } from '../data/commit';
import { dropDraft, setDraft } from '../data/drafts';
import { FamilySelect } from '../parts/FamilySelect';
import { Glyph } from '../parts/Glyph';
import { HitMini } from '../parts/HitMini';
import { Parameter } from '../parts/Parameter';
import { ParameterRows } from '../parts/ParameterRows';
import { TextField } from '../parts/TextField';
import { emptyPad, takeInstead } from './edits';
import { HitWave } from './HitWave';
import { LayerTable } from './LayerTable';
import { OtherTakes } from './OtherTakes';
import { SharedHit } from './SharedHit';
import { UnderTakes } from './UnderTakes';

type StoredPad = Stored<Pad>;

const SOUND = ['levelDb', 'normaliseDbfs', 'semitones', 'cents', 'pan', 'startMs', 'fadeOutMs'] as const;
const LAYER = ['levelDb', 'pan', 'semitones', 'cents', 'offsetMs', 'inverted', 'lowVelocity', 'highVelocity'] as const;

/**
 * The chosen pad: its sound and layers at the left, sound parameters in the middle, playing parameters at the right.
 */
export function PadEditor({ view, pad }: { view: KitView; pad: StoredPad }) {
  const { commit } = useCommands();
  const layers = view.layers.filter((l) => l.padId === pad.id);
  const [chosenLayer, setChosenLayer] = useState(layers[0]?.id);
  const layer = layers.find((l) => l.id === chosenLayer) ?? layers[0];
  const hit = view.hits.find((h) => h.id === layer?.hitId);
  const recording = view.recordings.find((r) => r.id === hit?.recordingId);
  const set = (label: string, fields: Partial<Pad>) => {
    void commit(`changed the ${label} of ${pad.name}`, [
      { op: 'update', doc: 'pad', id: pad.id, rev: pad.rev, set: fields },
    ]);
    dropDraft('pad', pad.id);
  };
  const setLayer = (label: string, target: Stored<Layer>, fields: Partial<Layer>) => {
    void commit(`changed the ${label} of a layer of ${pad.name}`, [
      { op: 'update', doc: 'layer', id: target.id, rev: target.rev, set: fields },
    ]);
    dropDraft('layer', target.id);
  };
  /** Updates the draft while a parameter is turned; null gives it up. */
  const turn = (doc: 'pad' | 'layer', id: string) => (key: string, value: unknown) =>
    value === null ? dropDraft(doc, id) : setDraft(doc, id, { [key]: value });

  return (
    <>
      <section aria-label="Sound of the pad" className="flex w-[37%] min-w-0 flex-col border-line border-r px-4 py-2">
        <header className="flex items-center gap-2">
          <Glyph family={pad.family} />
          <TextField
            label="Name of the pad"
            value={pad.name}
            maxLength={LONGEST_NAME}
            className="min-w-0 flex-1 border border-transparent px-1 font-semibold text-[15px] hover:border-line"
            onCommit={(name) => set('name', { name })}
          />
          <span className="figure whitespace-nowrap text-[12px] text-soft">
            {capOf(pad.position)} · note {noteOf(pad)} {noteName(noteOf(pad))}
          </span>
        </header>
        {hit &&
          recording &&
          (isLayered(hit) ? (
            <div className="mt-2 border-line border-b">
              <HitMini hit={hit} recording={recording} height={96} />
            </div>
          ) : (
            <HitWave key={hit.id} hit={hit} recording={recording} />
          ))}
        {hit && <SharedHit view={view} hit={hit} />}
        <div className="mt-2 min-h-0 flex-1 overflow-auto">
          <LayerTable
            view={view}
            pad={pad}
            layers={layers}
            chosenId={layer?.id}
            onChoose={setChosenLayer}
            onRemove={(l) =>
              void commit(`took a layer off ${pad.name}`, [{ op: 'remove', doc: 'layer', id: l.id, rev: l.rev }])
            }
          />
          {layer && (
            <OtherTakes
              view={view}
              variations={view.variations.filter((v) => v.padId === pad.id)}
              onTake={(variation) =>
                void commit(`took another take on ${pad.name}`, takeInstead(view, pad, layer, variation))
              }
              onDrop={(v) =>
                void commit(`dropped a take of ${pad.name}`, [{ op: 'remove', doc: 'variation', id: v.id, rev: v.rev }])
              }
            />
          )}
        </div>
      </section>
      <section aria-label="How it sounds" className="w-[33%] min-w-0 overflow-auto border-line border-r px-4 py-2">
        <h2 className="text-[12px] font-semibold text-soft">Pad</h2>
        <ParameterRows of={PAD_PARAMETERS} keys={SOUND} values={pad} onPreview={turn('pad', pad.id)} onSet={set} />
        {layer && layers.length > 1 && (
          <>
            <h2 className="mt-2 truncate text-[12px] font-semibold text-soft">Layer {hit?.name}</h2>
            <ParameterRows
              of={LAYER_PARAMETERS}
              keys={LAYER}
              values={layer}
              onPreview={turn('layer', layer.id)}
              onSet={(label, fields) => setLayer(label, layer, fields)}
            />
            {layer !== layers[0] && (
              <UnderTakes view={view} pad={pad} layer={layer} onSet={(fields) => setLayer('takes', layer, fields)} />
            )}
          </>
        )}
      </section>
      <section aria-label="How it plays" className="min-w-0 flex-1 overflow-y-auto overflow-x-hidden px-4 py-2">
        <h2 className="text-[12px] font-semibold text-soft">Playing</h2>
        <ParameterRows of={PAD_PARAMETERS} keys={['mode', 'chokeGroup']} values={pad} onSet={set} />
        <p className="py-1 text-[12px] text-soft">{chokeText(view, pad)}</p>
        <ParameterRows of={PAD_PARAMETERS} keys={['voices']} values={pad} onSet={set} />
        <Parameter
          of={PAD_PARAMETERS.note}
          unit={noteName(noteOf(pad))}
          value={noteOf(pad)}
          initial={noteOfPlace(pad.position)}
          standsIn={pad.note === null}
          onCommit={(note) => set(PAD_PARAMETERS.note.said, { note: note === noteOfPlace(pad.position) ? null : note })}
        />
        {sameNote(view, pad) && <p className="py-1 text-[12px] text-madder">{sameNote(view, pad)}</p>}
        <div className="flex h-[26px] items-center gap-2 border-line border-b">
          <span className="w-[104px] flex-none">Family</span>
          <FamilySelect label="Family" value={pad.family} onChoose={(family) => set('family', { family })} />
        </div>
        <button
          type="button"
          className="quiet-button mt-4"
          onClick={() => void commit(`emptied the pad ${pad.name}`, emptyPad(pad))}
        >
          Empty the pad
        </button>
      </section>
    </>
  );
}

function chokeText(view: KitView, pad: StoredPad): string {
  if (pad.chokeGroup === 0) return 'Sounds on, whatever else is struck.';
  const others = view.pads.filter((p) => p.id !== pad.id && p.chokeGroup === pad.chokeGroup).map((p) => p.name);
  return others.length === 0
    ? 'Alone in its group: a new strike cuts the one before.'
    : `Cuts, and is cut by, ${others.join(', ')}.`;
}

/** Names other pads on the same note; empty where there are none. */
function sameNote(view: KitView, pad: StoredPad): string {
  const others = view.pads.filter((p) => p.id !== pad.id && noteOf(p) === noteOf(pad)).map((p) => p.name);
  return others.length === 0 ? '' : `This note plays ${others.join(', ')} as well.`;
}
