import { noteOf } from '../kit/layout';
import { generalMidiLayout } from '../kit/layouts';
import type { Pad } from '../kit/model';
import type { MidiFile } from '../midi/file';
import { DRUM_CHANNEL, type WrittenTrack, writeTracks } from '../midi/write';
import { noteName } from '../signal/units';
import { strokesOf } from './edits';
import {
  type BeatUnit,
  type Groove,
  type GrooveLane,
  type GrooveNote,
  type GrooveRow,
  LAST_TICK,
  type Meter,
  MOST_BARS,
  MOST_NOTES,
  TICKS_PER_QUARTER,
} from './model';
import { GROOVE_PARAMETERS, NOTE_INITIAL } from './parameters';
import { heardRows, padOfRow } from './score';
import { barStarts, barTicks, swungTick } from './time';

/** A groove with its rows and notes, without ids of its documents. */
export interface WholeGroove {
  readonly groove: Omit<Groove, 'id'>;
  readonly rows: readonly GrooveRow[];
  readonly notes: readonly GrooveNote[];
  readonly lanes: readonly GrooveLane[];
}

/**
 * A groove as a Standard MIDI File: drums' channel, a track for everything or one a row. A row has the note of the pad
 * that plays it where `pads` are given, otherwise its own. Rows that are muted are left out; swing and rolls are written
 * as they sound.
 */
export function grooveToMidi(
  { groove, rows, notes }: WholeGroove,
  format: 0 | 1,
  pads: readonly Pad[] = [],
): Uint8Array<ArrayBuffer> {
  const starts = barStarts(groove);
  const last = starts[groove.bars] as number;
  const tracks = heardRows(rows).map((row): WrittenTrack => {
    const pad = padOfRow(row, pads)?.pad;
    const note = pad ? noteOf(pad) : row.note;
    const strokes = notes
      .filter(({ rowId, tick }) => rowId === row.id && tick < last)
      .flatMap((one) => strokesOf(one).map((stroke) => ({ ...stroke, at: one.tick + stroke.after, one })))
      .sort((a, b) => a.at - b.at);
    const messages = strokes.flatMap(({ at, velocity, one }, n) => {
      const tick = Math.round(swungTick(at, groove, starts));
      const next = strokes[n + 1];
      const until = Math.round(swungTick(at + one.length / one.strokes, groove, starts));
      // A note ends before the same one begins again, and is never shorter than a tick.
      const ends = Math.max(tick + 1, Math.min(until, next ? Math.round(swungTick(next.at, groove, starts)) : until));
      return [
        { tick, message: { kind: 'note-on', channel: DRUM_CHANNEL, note, velocity } as const },
        { tick: ends, message: { kind: 'note-off', channel: DRUM_CHANNEL, note, velocity: 64 } as const },
      ];
    });
    // What ends comes before what begins at the same tick.
    const order = { 'note-off': 0, 'note-on': 1 };
    messages.sort((a, b) => a.tick - b.tick || order[a.message.kind] - order[b.message.kind]);
    return { name: row.role || noteName(note), messages };
  });
  const meters = groove.meters
    .filter(({ bar }) => bar < groove.bars)
    .map(({ bar, beats, beatUnit }) => ({ tick: starts[bar] as number, beats, beatUnit }));
  return writeTracks({ bpm: groove.bpm, title: groove.name, meters, ticks: last, tracks }, format);
}

/** A groove that was read, and what of the file it does not have, in words. */
export interface ReadGroove extends WholeGroove {
  readonly faults: readonly string[];
}

const ROLES = new Map(generalMidiLayout().map((place) => [noteOf(place), { role: place.role, family: place.family }]));
const BEAT_UNITS: readonly number[] = [1, 2, 4, 8, 16];

/**
 * A MIDI file as a groove: the notes of the drums' channel, or of all where that has none; roles by General MIDI. What a
 * groove cannot have - other tempi, more bars or notes, signatures within a bar - is told. Null where it has no notes.
 */
export function grooveFromMidi(file: MidiFile, name: string, newId: () => string): ReadGroove | null {
  const faults = [...file.faults];
  const struck = file.messages.filter(({ message }) => message.kind === 'note-on');
  const drums = struck.filter(({ message }) => message.channel === DRUM_CHANNEL);
  const heard = drums.length > 0 ? drums : struck;
  if (heard.length === 0) return null;
  const { low, high } = GROOVE_PARAMETERS.bpm;
  const bpm = Math.max(low, Math.min(high, Math.round((file.tempos[0]?.bpm ?? 120) * 100) / 100));
  if (file.tempos.length > 1) faults.push('its tempo changes: the first one is taken for all of it');
  // Frames of film have no ticks of music: seconds are taken at the tempo.
  const perSecond = (bpm / 60) * TICKS_PER_QUARTER;
  const scale = file.ticksPerQuarter === null ? null : TICKS_PER_QUARTER / file.ticksPerQuarter;
  const tickOf = ({ tick, seconds }: { tick: number; seconds: number }) =>
    Math.round(scale === null ? seconds * perSecond : tick * scale);
  const end = tickOf({ tick: file.ticks, seconds: file.seconds });
  const latest = heard.reduce((last, one) => Math.max(last, tickOf(one)), 0);
  const { meters, bars } = barsOf(file, scale, Math.max(latest + 1, Math.min(end, LAST_TICK)), faults);
  const starts = barStarts({ meters, bars });
  const last = starts[bars] as number;
  const rows = new Map<number, GrooveRow>();
  const notes: GrooveNote[] = [];
  const offs = endsOf(file);
  let left = 0;
  for (const one of heard) {
    if (one.message.kind !== 'note-on') continue;
    const { note, velocity } = one.message;
    const tick = tickOf(one);
    if (tick >= last || notes.length >= MOST_NOTES) {
      left++;
      continue;
    }
    let row = rows.get(note);
    if (!row) {
      const { role, family } = ROLES.get(note) ?? { role: '', family: null };
      row = { id: newId(), grooveId: '', position: rows.size, role, note, family, muted: false, alone: false };
      rows.set(note, row);
    }
    const until = offs.get(one);
    const length = Math.max(1, Math.min(LAST_TICK, (until ? tickOf(until) : tick) - tick));
    notes.push({ id: newId(), rowId: row.id, tick, length, ...NOTE_INITIAL, velocity });
  }
  if (left > 0) faults.push(`${left} notes behind bar ${bars} or over ${MOST_NOTES} are left out`);
  const groove = { name, bars, meters, bpm, swing: 0.5, swingOf: 16 as const };
  return { groove, rows: [...rows.values()], notes, lanes: [], faults };
}

/** The signatures of a file by bars, and how many bars it takes. */
function barsOf(file: MidiFile, scale: number | null, ticks: number, faults: string[]) {
  const told = scale === null ? [] : file.signatures.map((s) => ({ ...s, tick: Math.round(s.tick * scale) }));
  const meters: Meter[] = [{ bar: 0, beats: 4, beatUnit: 4 }];
  let bars = 0;
  let start = 0;
  let next = 0;
  while (bars < MOST_BARS && (start < ticks || bars === 0)) {
    let now = meters.at(-1) as Meter;
    for (; next < told.length && (told[next] as { tick: number }).tick <= start; next++) {
      const { tick, beats, beatUnit } = told[next] as (typeof told)[number];
      if (beats < 1 || beats > 32 || !BEAT_UNITS.includes(beatUnit)) {
        faults.push(`its signature ${beats}/${beatUnit} is none that a groove has`);
        continue;
      }
      if (tick < start) faults.push(`a signature begins within bar ${bars}: it is taken for the next one`);
      if (now.bar === bars) meters.pop();
      now = { bar: bars, beats, beatUnit: beatUnit as BeatUnit };
      meters.push(now);
    }
    start += barTicks(now);
    bars++;
  }
  return { meters, bars };
}

type Timed = MidiFile['messages'][number];

/** For every note on that is ended: its end. */
function endsOf(file: MidiFile): ReadonlyMap<Timed, Timed> {
  const ends = new Map<Timed, Timed>();
  /** Notes of a key in the order they began, and how many of them have ended. */
  const down = new Map<string, { readonly notes: Timed[]; ended: number }>();
  for (const one of file.messages) {
    const { message } = one;
    if (message.kind !== 'note-on' && message.kind !== 'note-off') continue;
    const key = `${one.track} ${message.channel} ${message.note}`;
    const open = down.get(key) ?? { notes: [], ended: 0 };
    down.set(key, open);
    if (message.kind === 'note-on') open.notes.push(one);
    else {
      const first = open.notes[open.ended];
      if (!first) continue;
      ends.set(first, one);
      open.ended++;
    }
  }
  return ends;
}
