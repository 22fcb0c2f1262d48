import type { WholeGroove } from './midi';
import { type GrooveLane, type GrooveNote, type GrooveRow, type Meter, MOST_BARS } from './model';
import { grooveTicks } from './time';

/**
 * Grooves one after another as one, at the tempo and with the swing of the first; null where there are none. Rows of the same
 * role and note become one. What is longer than a groove can be is left out.
 */
export function chained(grooves: readonly WholeGroove[], name: string, newId: () => string): WholeGroove | null {
  const [first] = grooves;
  if (!first) return null;
  const rows = new Map<string, GrooveRow>();
  const meters: Meter[] = [];
  const notes: GrooveNote[] = [];
  const lanes = new Map<string, GrooveLane>();
  let bars = 0;
  let start = 0;
  for (const { groove, ...whole } of grooves) {
    if (bars + groove.bars > MOST_BARS) break;
    const ids = new Map<string, string>();
    for (const row of whole.rows) {
      const key = `${row.role} ${row.note}`;
      const known = rows.get(key) ?? { ...row, id: newId() };
      rows.set(key, known);
      ids.set(row.id, known.id);
    }
    for (const meter of groove.meters) meters.push({ ...meter, bar: meter.bar + bars });
    for (const note of whole.notes)
      notes.push({ ...note, id: newId(), rowId: ids.get(note.rowId) as string, tick: note.tick + start });
    for (const lane of whole.lanes) {
      const rowId = lane.rowId === null ? null : (ids.get(lane.rowId) ?? null);
      const key = [rowId, lane.bus, lane.step, lane.parameter].join(' ');
      const known = lanes.get(key) ?? { ...lane, id: newId(), rowId, points: [] };
      const points = lane.points.map(({ tick, value }) => ({ tick: tick + start, value }));
      lanes.set(key, { ...known, points: [...known.points, ...points] });
    }
    bars += groove.bars;
    start += grooveTicks(groove);
  }
  const { bpm, swing, swingOf } = first.groove;
  const whole = { name, bars, meters, bpm, swing, swingOf };
  return { groove: whole, rows: [...rows.values()], notes, lanes: [...lanes.values()] };
}
