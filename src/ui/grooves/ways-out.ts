import type { PrintAnswer } from '@/contract/hits';
import { grooveToMidi } from '@/core/groove/midi';
import { offsetsOf } from '@/core/groove/score';
import type { Pad } from '@/core/kit/model';
import { safeFileName } from '@/core/naming/safe-names';
import { heldBack } from '@/core/rights/rights';
import { browserId, postJson, tabId } from '../data/api';
import { download, saveFile } from '../data/download';
import type { ActionItem } from '../parts/ActionItems';
import { complain, tell } from '../parts/notice';
import type { GrooveDesk } from './use-groove-desk';

/** How a groove leaves: as a MIDI file by its own notes or the kit's, or played by the kit, as WAV files. */
export function waysOut({ stored: view, kit, rows, cell }: GrooveDesk): readonly ActionItem[] {
  const row = rows[cell.row];
  const { groove } = view;
  const save = (format: 0 | 1, pads: readonly Pad[]) => {
    if (view.lanes.length > 0 || view.notes.some((note) => offsetsOf(note) !== undefined))
      tell('A MIDI file has no lanes, and of each note only its velocity: printed as WAV it has all of them.');
    saveFile(`${safeFileName(groove.name)}.mid`, new Blob([grooveToMidi(view, format, pads)], { type: 'audio/midi' }));
  };
  const print = async (more: string) => {
    if (!kit) return;
    const held = kit.recordings.filter((recording) => heldBack(recording) !== null);
    const whom = held.length > 0 ? 'self' : 'share';
    tell(
      held.length > 0
        ? `Printing a private copy: ${held[0]?.title} ${held.length > 1 ? `and ${held.length - 1} more ` : ''}may not be passed on as it is.`
        : `Printing ${groove.name} by ${kit.kit.name} …`,
    );
    try {
      await download(`/api/grooves/${groove.id}/print?kit=${kit.kit.id}&for=${whom}${more}`);
    } catch (error) {
      complain((error as Error).message);
    }
  };
  const record = async (padId: string | null, seams: boolean) => {
    if (!kit) return;
    tell(`Printing ${groove.name} by ${kit.kit.name} to the recordings …`);
    try {
      const body = { kitId: kit.kit.id, padId, seams, browser: browserId(), tab: tabId };
      const { title, duplicate } = await postJson<PrintAnswer>(`/api/grooves/${groove.id}/print`, body);
      tell(
        duplicate ? `It was there already: ${title}.` : `${title} is a recording now, with the rights of its sounds.`,
      );
    } catch (error) {
      complain((error as Error).message);
    }
  };
  return [
    ['MIDI file, one track', true, () => save(0, [])],
    ['MIDI file, a track a row', true, () => save(1, [])],
    ['MIDI file by the notes of this kit', kit !== null, () => save(0, kit?.pads ?? [])],
    ['WAV of this kit, ringing out', kit !== null, () => void print('')],
    ['WAV of this kit, a loop that seams', kit !== null, () => void print('&seams=yes')],
    ['WAV and a stem a pad', kit !== null, () => void print('&stems=pads')],
    ['WAV and a stem a bus', (kit?.buses.length ?? 0) > 0, () => void print('&stems=buses')],
    ['To the recordings, ringing out', kit !== null, () => void record(null, false)],
    ['To the recordings, as a loop that seams', kit !== null, () => void record(null, true)],
    [
      `To the recordings: ${row?.name ?? 'a pad'} alone`,
      row?.pad != null,
      () => void record(row?.pad?.id ?? null, false),
    ],
  ];
}
