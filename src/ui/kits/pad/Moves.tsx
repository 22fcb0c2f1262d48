'use client';

import { X } from 'lucide-react';
import { useState } from 'react';
import type { Stored } from '@/contract/documents';
import type { Pad } from '@/core/kit/model';
import { OSCILLATOR_KEYS, OSCILLATORS, type OscillatorName, SOURCES, TARGETS } from '@/core/kit/moving';
import { PAD_PARAMETERS } from '@/core/kit/parameters';
import { prefixedKey } from '@/core/parameter/prefixed';
import { MAX_MOVES } from '@/core/play/limits';
import { SOURCE_NAMES, type SourceName, TARGET_NAMES, type TargetName } from '@/core/play/moves';
import { Choice } from '../../parts/Choice';
import { Parameter } from '../../parts/Parameter';
import { ParameterRows } from '../../parts/ParameterRows';
import type { PadEdits } from './use-pad-edits';

type Move = Pad['moves'][number];

/** A first depth at which each target is heard to move. */
const FIRST_DEPTH: Readonly<Record<TargetName, number>> = {
  level: 6,
  pan: 0.3,
  width: 0.5,
  tune: 10,
  cutoff: 1,
  resonance: 1,
  start: 10,
  attack: 1,
  decay: 1,
  release: 1,
  lfo1Rate: 1,
  lfo1Strength: 0.5,
  lfo2Rate: 1,
  lfo2Strength: 0.5,
};

/** What moves a pad's sound: each source and target with its depth, and the oscillators that are in use. */
export function Moves({ pad, edits }: { pad: Stored<Pad>; edits: PadEdits }) {
  const { moves } = pad;
  const withDepth = (at: number, depth: number) => moves.map((m, i) => (i === at ? { ...m, depth } : m));
  const used = OSCILLATORS.filter((lfo) => moves.some(({ source }) => source === lfo));
  return (
    <section aria-label="What moves it">
      <header className="flex items-center justify-between">
        <h2 className="font-semibold text-[12px] text-soft">What moves it</h2>
        <AddMove
          isFull={moves.length >= MAX_MOVES}
          onAdd={(source, target) =>
            edits.set(movementOf({ source, target }), {
              moves: [...moves, { source, target, depth: FIRST_DEPTH[target] }],
            })
          }
        />
      </header>
      <Parameter
        of={PAD_PARAMETERS.velocityDb}
        label="Velocity → level"
        value={pad.velocityDb}
        onPreview={(value) => edits.turn(value === null ? null : { velocityDb: value })}
        onCommit={(value) => value !== null && edits.set(PAD_PARAMETERS.velocityDb.said, { velocityDb: value })}
      />
      {moves.map((move, i) => (
        <MoveRow
          // biome-ignore lint/suspicious/noArrayIndexKey: moves have no ids; the same two may occur twice
          key={i}
          move={move}
          onTurn={(depth) => edits.turn(depth === null ? null : { moves: withDepth(i, depth) })}
          onSet={(depth) => edits.set(movementOf(move), { moves: withDepth(i, depth) })}
          onDrop={() => edits.set(movementOf(move), { moves: moves.filter((_, j) => j !== i) })}
        />
      ))}
      {used.map((lfo) => (
        <Oscillator key={lfo} name={lfo} pad={pad} edits={edits} />
      ))}
    </section>
  );
}

/** What the history calls it: "changed the movement of cutoff by LFO 1 of Kick". */
function movementOf({ source, target }: Pick<Move, 'source' | 'target'>): string {
  return `movement of ${TARGETS[target].label.toLowerCase()} by ${SOURCES[source]}`;
}

function nameOf({ source, target }: Move): string {
  return `${SOURCES[source]} to ${TARGETS[target].label.toLowerCase()}`;
}

function MoveRow({
  move,
  onTurn,
  onSet,
  onDrop,
}: {
  move: Move;
  onTurn: (depth: number | null) => void;
  onSet: (depth: number) => void;
  onDrop: () => void;
}) {
  const label = `${SOURCES[move.source].replace(/ \(.*/, '')} → ${TARGETS[move.target].label.toLowerCase()}`;
  return (
    <div className="flex items-center">
      <div className="min-w-0 flex-1">
        <Parameter
          of={TARGETS[move.target]}
          label={label}
          value={move.depth}
          initial={0}
          onPreview={onTurn}
          onCommit={(depth) => depth !== null && onSet(depth)}
        />
      </div>
      <button
        type="button"
        className="ml-1 flex-none rounded text-soft hover:text-madder"
        aria-label={`Drop ${nameOf(move)}`}
        onClick={onDrop}
      >
        <X size={12} aria-hidden />
      </button>
    </div>
  );
}

/** Chooses a source, then its target. */
function AddMove({ isFull, onAdd }: { isFull: boolean; onAdd: (source: SourceName, target: TargetName) => void }) {
  const [source, setSource] = useState<SourceName | null>(null);
  if (isFull) return <span className="text-[12px] text-soft">all {MAX_MOVES} in use</span>;
  if (source === null)
    return (
      <Choice
        label="Add what moves it"
        className="text-[12px] text-verdigris"
        value={undefined as SourceName | undefined}
        shown="add …"
        options={SOURCE_NAMES.map((name) => [name, SOURCES[name]] as const)}
        onChoose={setSource}
      />
    );
  return (
    <span className="flex items-center gap-1 text-[12px]">
      {SOURCES[source]} →
      <Choice
        label={`Target of ${SOURCES[source]}`}
        className="text-verdigris"
        value={undefined as TargetName | undefined}
        shown="choose what it moves"
        options={TARGET_NAMES.map((target) => [target, TARGETS[target].label] as const)}
        onChoose={(target) => {
          setSource(null);
          onAdd(source, target);
        }}
      />
      <button
        type="button"
        className="text-soft hover:text-ink"
        aria-label="Add nothing"
        onClick={() => setSource(null)}
      >
        <X size={12} aria-hidden />
      </button>
    </span>
  );
}

/** The rows of an oscillator. */
function Oscillator({ name, pad, edits }: { name: OscillatorName; pad: Stored<Pad>; edits: PadEdits }) {
  const keys = OSCILLATOR_KEYS.filter((key) => key !== 'rateHz' || pad[`${name}Period`] === 'hz').map((key) =>
    prefixedKey(name, key),
  );
  return (
    <>
      <h3 className="mt-1 text-[12px] text-soft">LFO {name.slice(3)}</h3>
      <ParameterRows
        of={PAD_PARAMETERS}
        keys={keys}
        values={pad}
        onPreview={(key, value) => edits.turn(value === null ? null : { [key]: value })}
        onSet={edits.set}
      />
    </>
  );
}
