'use client';

import type { Stored } from '@/contract/documents';
import type { Pad } from '@/core/kit/model';
import { SOURCES } from '@/core/kit/moving';
import { PAD_PARAMETERS } from '@/core/kit/parameters';
import type { TargetName } from '@/core/play/moves';
import { ParameterRows } from '../../parts/ParameterRows';
import type { PadEdits } from './use-pad-edits';

const PATH = ['levelDb', 'pan', 'width', 'semitones', 'cents', 'filter'] as const;
const FILTER = ['slope', 'cutoffHz', 'resonance'] as const;
const REST = ['driftCents', 'driftDb', 'normaliseDbfs'] as const;

/** Which rows a target is shown at. */
const ROW_OF: Readonly<Partial<Record<TargetName, keyof typeof PAD_PARAMETERS>>> = {
  level: 'levelDb',
  pan: 'pan',
  width: 'width',
  tune: 'semitones',
  cutoff: 'cutoffHz',
  resonance: 'resonance',
};

/** The signal path of a pad; rows that something moves say what. */
export function SoundRows({ pad, edits }: { pad: Stored<Pad>; edits: PadEdits }) {
  const keys = [...PATH, ...(pad.filter === 'off' ? [] : FILTER), ...REST];
  return (
    <ParameterRows
      of={PAD_PARAMETERS}
      keys={keys}
      values={pad}
      moved={movedRows(pad)}
      onPreview={(key, value) => edits.turn(value === null ? null : { [key]: value })}
      onSet={edits.set}
    />
  );
}

/** What moves each row, in words. */
function movedRows(pad: Pad): Readonly<Record<string, string>> {
  const by = new Map<string, string[]>();
  const add = (row: string, source: string) => by.set(row, [...(by.get(row) ?? []), source]);
  if (pad.velocityDb > 0) add('levelDb', 'velocity');
  if (pad.filterOctaves !== 0) add('cutoffHz', 'filter envelope');
  if (pad.pitchSemitones !== 0) add('semitones', 'pitch envelope');
  for (const { source, target, depth } of pad.moves) {
    const row = ROW_OF[target];
    if (row && depth !== 0) add(row, SOURCES[source]);
  }
  return Object.fromEntries([...by].map(([row, sources]) => [row, sources.join(', ')]));
}
