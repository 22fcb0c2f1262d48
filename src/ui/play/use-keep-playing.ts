import type { KitView } from '@/contract/views';
import { toBase64 } from '@/core/bytes';
import { noteOf } from '@/core/kit/layout';
import { writeMidiFile } from '@/core/midi/write';
import { freeName } from '@/core/naming/names';
import { useCommands } from '../data/commit';
import { useNamed } from '../data/queries';
import { keptMessages } from './kept';

/** What was played on a kit's pads between two moments, in ms of the page's clock. */
export interface Played {
  readonly fromMs: number;
  readonly toMs: number;
}

/** Keeps what was played as a take of playing, under a free name like the wanted one; false where nothing was played. */
export function useKeepPlaying(): (view: KitView, played: Played, wanted: string) => Promise<boolean> {
  const { commit } = useCommands();
  const performances = useNamed('performance');
  return async (view, { fromMs, toMs }, wanted) => {
    const notes = new Map(view.pads.map((pad) => [pad.position, noteOf(pad)]));
    const { messages, strokes, seconds } = keptMessages(fromMs, toMs, (pad) => notes.get(pad));
    if (strokes === 0) return false;
    const name = freeName(wanted, new Set(performances.data?.map((p) => p.name)));
    const midi = toBase64(writeMidiFile(messages, view.kit.tempoBpm, name));
    await commit(`kept the take ${name}`, [
      { op: 'create', doc: 'performance', id: crypto.randomUUID(), value: { name, seconds, strokes, midi } },
    ]);
    return true;
  };
}
