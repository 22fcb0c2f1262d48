'use client';

import { useState } from 'react';
import type { Stored } from '@/contract/documents';
import type { KitView } from '@/contract/views';
import type { Hit } from '@/core/hit/model';
import { capOf, noteOf, noteOfPlace } from '@/core/kit/layout';
import { CHOKE_GROUPS, type Layer, type Pad } from '@/core/kit/model';
import { LONGEST_NAME } from '@/core/naming/names';
import { noteName } from '@/core/signal/units';
import { useCommands } from '../data/commit';
import { FamilySelect } from '../parts/FamilySelect';
import { Glyph } from '../parts/Glyph';
import { Parameter } from '../parts/Parameter';
import { TextField } from '../parts/TextField';
import { emptyPad, takeInstead } from './edits';
import { HitWave } from './HitWave';
import { LayerTable } from './LayerTable';
import { OtherTakes } from './OtherTakes';
import { SharedHit } from './SharedHit';

type StoredPad = Stored<Pad>;

/** What is on a pad: its sound and layers at the left, how it sounds in the middle, how it plays at the right. */
export function PadEditor({ view, pad }: { view: KitView; pad: StoredPad }) {
  const { commit } = useCommands();
  const layers = view.layers.filter((l) => l.padId === pad.id);
  const [chosenLayer, setChosenLayer] = useState(layers[0]?.id);
  const layer = layers.find((l) => l.id === chosenLayer) ?? layers[0];
  const hit = view.hits.find((h) => h.id === layer?.hitId);
  const recording = view.recordings.find((r) => r.id === hit?.recordingId);
  const set = (label: string, fields: Partial<Pad>) =>
    void commit(`changed the ${label} of ${pad.name}`, [
      { op: 'update', doc: 'pad', id: pad.id, rev: pad.rev, set: fields },
    ]);
  const setLayer = (label: string, target: Stored<Layer>, fields: Partial<Layer>) =>
    void commit(`changed the ${label} of a layer of ${pad.name}`, [
      { op: 'update', doc: 'layer', id: target.id, rev: target.rev, set: fields },
    ]);
  const setHit = (target: Stored<Hit>, fields: Partial<Hit>) =>
    void commit(`trimmed ${target.name}`, [{ op: 'update', doc: 'hit', id: target.id, rev: target.rev, set: fields }]);

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
        {hit && recording && (
          <HitWave key={hit.id} hit={hit} recording={recording} onTrim={(fields) => setHit(hit, fields)} />
        )}
        {hit && <SharedHit view={view} hit={hit} />}
        <div className="mt-2 min-h-0 flex-1 overflow-auto">
          <LayerTable
            view={view}
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
        <LevelRow label="Level" value={pad} onSet={set} />
        <Normalise pad={pad} onChange={(normaliseDbfs) => set('normalising', { normaliseDbfs })} />
        <TuneRows coarse="Tune" fine="Fine tune" value={pad} onSet={set} />
        <Parameter
          label="Pan"
          unit={pad.pan === 0 ? 'centre' : pad.pan < 0 ? '% left' : '% right'}
          digits={0}
          value={pad.pan * 100}
          low={-100}
          high={100}
          step={5}
          fine={1}
          standard={0}
          bipolar
          onCommit={(pan) => set('pan', { pan: pan / 100 })}
        />
        <Parameter
          label="Fade out"
          unit="ms"
          digits={0}
          value={pad.fadeOutMs}
          low={0}
          high={500}
          step={5}
          fine={1}
          standard={2}
          onCommit={(fadeOutMs) => set('fade', { fadeOutMs })}
        />
        {layer && layers.length > 1 && (
          <>
            <h2 className="mt-2 truncate text-[12px] font-semibold text-soft">Layer {hit?.name}</h2>
            <LevelRow label="Layer level" value={layer} onSet={(label, fields) => setLayer(label, layer, fields)} />
            <TuneRows
              coarse="Layer tune"
              fine="Layer fine"
              value={layer}
              onSet={(label, fields) => setLayer(label, layer, fields)}
            />
          </>
        )}
      </section>
      <section aria-label="How it plays" className="min-w-0 flex-1 overflow-y-auto overflow-x-hidden px-4 py-2">
        <h2 className="text-[12px] font-semibold text-soft">Playing</h2>
        <Choice label="Plays">
          <div role="radiogroup" aria-label="Plays" className="flex overflow-hidden rounded-md border border-line">
            {(['one-shot', 'held'] as const).map((mode) => (
              // biome-ignore lint/a11y/useSemanticElements: two joined buttons read better than native radio dots here
              <button
                key={mode}
                type="button"
                role="radio"
                aria-checked={pad.mode === mode}
                className={`px-2 leading-[22px] ${pad.mode === mode ? 'bg-verdigris text-on-ink' : ''}`}
                onClick={() => pad.mode !== mode && set('playing', { mode })}
              >
                {mode === 'held' ? 'while held' : 'one-shot'}
              </button>
            ))}
          </div>
        </Choice>
        <Choice label="Choke group">
          <select
            aria-label="Choke group"
            className="figure"
            value={pad.chokeGroup}
            onChange={(event) => set('choke group', { chokeGroup: Number(event.target.value) })}
          >
            <option value={0}>none</option>
            {Array.from({ length: CHOKE_GROUPS }, (_, i) => (
              // biome-ignore lint/suspicious/noArrayIndexKey: the groups are their numbers
              <option key={i + 1} value={i + 1}>
                {i + 1}
              </option>
            ))}
          </select>
        </Choice>
        <p className="py-1 text-[12px] text-soft">{chokeText(view, pad)}</p>
        <Choice label="Voices">
          <select
            aria-label="Voices"
            value={pad.oneVoice ? 'one' : 'many'}
            onChange={(event) => set('voices', { oneVoice: event.target.value === 'one' })}
          >
            <option value="many">overlap</option>
            <option value="one">one at a time</option>
          </select>
        </Choice>
        <Parameter
          label="MIDI note"
          unit={noteName(noteOf(pad))}
          digits={0}
          value={noteOf(pad)}
          low={0}
          high={127}
          step={1}
          fine={1}
          standard={noteOfPlace(pad.position)}
          onCommit={(note) => set('note', { note: note === noteOfPlace(pad.position) ? null : note })}
        />
        {sameNote(view, pad) && <p className="py-1 text-[12px] text-madder">{sameNote(view, pad)}</p>}
        <Choice label="Family">
          <FamilySelect label="Family" value={pad.family} onChoose={(family) => set('family', { family })} />
        </Choice>
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

interface MixRows<F> {
  readonly value: F;
  readonly onSet: (label: string, fields: Partial<F>) => void;
}

/** The level of a pad or of a layer. */
function LevelRow({ label, value, onSet }: MixRows<Pick<Pad, 'levelDb'>> & { label: string }) {
  return (
    <Parameter
      label={label}
      unit="dB"
      value={value.levelDb}
      low={-60}
      high={24}
      step={0.5}
      standard={0}
      onCommit={(levelDb) => onSet('level', { levelDb })}
    />
  );
}

/** Semitones and cents of a pad or of a layer. */
function TuneRows({
  coarse,
  fine,
  value,
  onSet,
}: MixRows<Pick<Pad, 'semitones' | 'cents'>> & { coarse: string; fine: string }) {
  return (
    <>
      <Parameter
        label={coarse}
        unit="st"
        digits={0}
        value={value.semitones}
        low={-24}
        high={24}
        step={1}
        fine={1}
        standard={0}
        bipolar
        onCommit={(semitones) => onSet('tuning', { semitones })}
      />
      <Parameter
        label={fine}
        unit="cents"
        value={value.cents}
        low={-100}
        high={100}
        step={1}
        standard={0}
        bipolar
        onCommit={(cents) => onSet('tuning', { cents })}
      />
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

function Choice({ label, children }: { label: string; children: React.ReactNode }) {
  return (
    <div className="flex h-[30px] items-center gap-2 border-b border-line">
      <span className="w-[104px] flex-none">{label}</span>
      {children}
    </div>
  );
}

/** Normalising is off until it is asked for; then it is a level like any other. */
function Normalise({ pad, onChange }: { pad: StoredPad; onChange: (dbfs: number | null) => void }) {
  if (pad.normaliseDbfs === null) {
    return (
      <div className="flex h-[26px] items-center gap-2 border-b border-line">
        <span className="w-[104px]">Peak</span>
        <span className="figure w-[112px] px-1 text-soft">as it is</span>
        <button
          type="button"
          className="ml-1 whitespace-nowrap rounded px-1 text-verdigris hover:underline"
          title="To −1 dBFS"
          onClick={() => onChange(-1)}
        >
          Normalise
        </button>
      </div>
    );
  }
  return (
    <div className="relative">
      <Parameter
        label="Normalise to"
        unit="dBFS"
        value={pad.normaliseDbfs}
        low={-36}
        high={0}
        step={0.5}
        standard={-1}
        onCommit={onChange}
      />
      <button
        type="button"
        className="absolute top-1 left-[84px] rounded px-[3px] text-[12px] text-soft hover:text-ink"
        aria-label="Stop normalising"
        title="Stop normalising"
        onClick={() => onChange(null)}
      >
        ×
      </button>
    </div>
  );
}

/** Says which other pads a pad's note plays as well; empty where none. */
function sameNote(view: KitView, pad: StoredPad): string {
  const others = view.pads.filter((p) => p.id !== pad.id && noteOf(p) === noteOf(pad)).map((p) => p.name);
  return others.length === 0 ? '' : `This note plays ${others.join(', ')} as well.`;
}
