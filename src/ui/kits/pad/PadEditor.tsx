'use client';

import Link from 'next/link';
import { useMemo, useState } from 'react';
import type { Stored } from '@/contract/documents';
import type { KitView } from '@/contract/views';
import { isLayered } from '@/core/hit/key';
import { noteOf, placeName } from '@/core/kit/layout';
import type { Layer, Pad } from '@/core/kit/model';
import { LAYER_PARAMETERS, PAD_PARAMETERS } from '@/core/kit/parameters';
import { LONGEST_NAME } from '@/core/naming/names';
import { useCommands } from '../../data/commit';
import { dropDraft, setDraft } from '../../data/drafts';
import { Glyph } from '../../parts/Glyph';
import { useNoteName } from '../../parts/note-names';
import { ParameterRows } from '../../parts/ParameterRows';
import { SmallTabs } from '../../parts/SmallTabs';
import { TextField } from '../../parts/TextField';
import { PadRoute } from '../buses/PadRoute';
import { takeInstead } from '../edits';
import { LiveSteps } from '../LiveSteps';
import { LayerTable } from './LayerTable';
import { MissingRole } from './MissingRole';
import { Moves } from './Moves';
import { OtherTakes } from './OtherTakes';
import { PadActions } from './PadActions';
import { PlayingRows } from './PlayingRows';
import { Shape } from './Shape';
import { SharedHit } from './SharedHit';
import { SoundRows } from './SoundRows';
import { TakesMap } from './TakesMap';
import { UnderTakes } from './UnderTakes';
import { type PadEdits, usePadEdits } from './use-pad-edits';

const LAYER = ['levelDb', 'pan', 'semitones', 'cents', 'offsetMs', 'inverted', 'lowVelocity', 'highVelocity'] as const;

/** The chosen pad: its wave, takes and layers at the left, its sound in the middle, what moves and plays it at the right. */
export function PadEditor({ view, pad }: { view: KitView; pad: Stored<Pad> }) {
  const { commit } = useCommands();
  const edits = usePadEdits(pad);
  const layers = view.layers.filter((l) => l.padId === pad.id);
  const steps = useMemo(() => view.steps.filter(({ padId }) => padId === pad.id), [view.steps, pad.id]);
  const [tab, setTab] = useState<'sound' | 'steps'>('sound');
  const [chosenLayer, setChosenLayer] = useState(layers[0]?.id);
  const layer = layers.find((l) => l.id === chosenLayer) ?? layers[0];
  const hit = view.hits.find((h) => h.id === layer?.hitId);
  const recording = view.recordings.find((r) => r.id === hit?.recordingId);
  return (
    <>
      <section
        aria-label="Sound of the pad"
        className="flex w-[42%] min-w-0 flex-col overflow-y-auto border-line border-r px-4 py-1"
      >
        <PadHead pad={pad} hitId={hit?.id} edits={edits}>
          {hit && recording && !isLayered(hit) && (
            <Link
              className="truncate text-verdigris hover:underline"
              title="Its edges on the whole recording, with the loupes"
              href={`/slice/${recording.id}?hit=${hit.id}`}
            >
              In {recording.title}
            </Link>
          )}
        </PadHead>
        {hit && recording && <Shape pad={pad} hit={hit} recording={recording} edits={edits} />}
        {hit && <SharedHit view={view} hit={hit} />}
        {layers.length === 0 ? (
          <MissingRole view={view} pad={pad} />
        ) : (
          <>
            <TakesMap {...{ view, pad, layers, edits }} chosenId={layer?.id} onChoose={setChosenLayer} />
            <div className="mt-1 min-h-[56px] flex-1 overflow-auto">
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
                    void commit(`dropped a take of ${pad.name}`, [
                      { op: 'remove', doc: 'variation', id: v.id, rev: v.rev },
                    ])
                  }
                />
              )}
            </div>
          </>
        )}
      </section>
      <section aria-label="How it sounds" className="w-[29%] min-w-0 overflow-auto border-line border-r px-4 py-2">
        <SmallTabs
          label="What of the sound"
          tabs={[
            ['sound', 'Sound', 'What each stroke sounds like'],
            [
              'steps',
              `Steps${steps.length > 0 ? ` ${steps.length}` : ''}`,
              'What all strokes go through as they sound',
            ],
          ]}
          shown={tab}
          onShow={setTab}
        />
        {tab === 'steps' ? (
          <>
            <LiveSteps
              key={pad.id}
              doc="padStep"
              owner={{ padId: pad.id }}
              name={pad.name}
              steps={steps}
              sampleRate={recording?.sampleRate ?? 48_000}
              nothing="Nothing yet. Steps are heard on all strokes of the pad together."
            />
            <PadRoute view={view} pad={pad} edits={edits} />
          </>
        ) : (
          <>
            <SoundRows pad={pad} edits={edits} />
            {layer && layers.length > 1 && (
              <LayerRows view={view} pad={pad} layer={layer} name={hit?.name ?? ''} isFirst={layer === layers[0]} />
            )}
          </>
        )}
      </section>
      <section aria-label="How it plays" className="min-w-0 flex-1 overflow-y-auto overflow-x-hidden px-4 py-2">
        <Moves pad={pad} edits={edits} />
        <PlayingRows {...{ view, pad, hit, recording, edits }} />
        <PadActions view={view} pad={pad} />
      </section>
    </>
  );
}

function PadHead({
  pad,
  hitId,
  edits,
  children,
}: {
  pad: Stored<Pad>;
  hitId: string | undefined;
  edits: PadEdits;
  children: React.ReactNode;
}) {
  const noteName = useNoteName();
  return (
    <header className="flex flex-none items-center gap-2 text-[12px]">
      <Glyph family={pad.family} />
      <TextField
        label="Name of the pad"
        value={pad.name}
        maxLength={LONGEST_NAME}
        className="min-w-0 flex-1 border border-transparent px-1 font-semibold text-[15px] hover:border-line"
        onCommit={(name) => edits.set('name', { name })}
      />
      {(['muted', 'alone'] as const).map((key) => (
        <button
          key={key}
          type="button"
          aria-pressed={pad[key]}
          className={pad[key] ? 'font-semibold text-madder' : 'text-soft hover:text-ink hover:underline'}
          onClick={() => edits.set(PAD_PARAMETERS[key].said, { [key]: !pad[key] })}
        >
          {key === 'muted' ? 'mute' : 'alone'}
        </button>
      ))}
      <span className="figure whitespace-nowrap text-soft">
        {pad.role !== pad.name && pad.role && `${pad.role} · `}
        {placeName(pad.position)} · note {noteOf(pad)} {noteName(noteOf(pad))}
      </span>
      {hitId && (
        <Link className="text-verdigris hover:underline" title="What is done to its sound (F4)" href={`/hits/${hitId}`}>
          Treat
        </Link>
      )}
      {children}
    </header>
  );
}

/** How the chosen layer sounds beside the others. */
function LayerRows({
  view,
  pad,
  layer,
  name,
  isFirst,
}: {
  view: KitView;
  pad: Stored<Pad>;
  layer: Stored<Layer>;
  name: string;
  isFirst: boolean;
}) {
  const { commit } = useCommands();
  const set = (label: string, fields: Partial<Layer>) => {
    void commit(`changed the ${label} of a layer of ${pad.name}`, [
      { op: 'update', doc: 'layer', id: layer.id, rev: layer.rev, set: fields },
    ]);
    dropDraft('layer', layer.id);
  };
  return (
    <>
      <h2 className="mt-2 truncate font-semibold text-[12px] text-soft">Layer {name}</h2>
      <ParameterRows
        of={LAYER_PARAMETERS}
        keys={[...LAYER, 'isTake']}
        values={layer}
        onPreview={(key, value) =>
          value === null ? dropDraft('layer', layer.id) : setDraft('layer', layer.id, { [key]: value })
        }
        onSet={set}
      />
      {!isFirst && !layer.isTake && (
        <UnderTakes view={view} pad={pad} layer={layer} onSet={(fields) => set('takes', fields)} />
      )}
    </>
  );
}
