import { useCallback, useMemo } from 'react';
import { createdGroove } from '@/contract/groove-changes';
import type { HeardGroove } from '@/contract/views';
import { grooveFromMidi, type WholeGroove } from '@/core/groove/midi';
import { readMidiFile } from '@/core/midi/file';
import { freeName, titleFromFileName } from '@/core/naming/names';
import { getJson } from '../data/api';
import { useCommands } from '../data/commit';
import { useGrooves } from '../data/queries';
import { complain, tell } from '../parts/notice';
import { createStore, useStore } from '../parts/store';
import { offered, trial } from './trial';

const CURRENT = 'undercroft.groove';
/** The groove that is open; null before it is known. */
const wanted = createStore<string | null>(null);
const newId = () => crypto.randomUUID();

/** The grooves of the workspace, which of them is open, and how a new one comes in. */
export function useGrooveList() {
  const { data, error } = useGrooves();
  const { commit } = useCommands();
  const chosen = useStore(wanted) ?? (typeof localStorage === 'undefined' ? null : localStorage.getItem(CURRENT));
  const openId = data?.find(({ id }) => id === chosen)?.id ?? data?.[0]?.id ?? null;
  const open = useCallback((id: string) => {
    localStorage.setItem(CURRENT, id);
    wanted.set(id);
  }, []);
  const names = useMemo(() => new Set((data ?? []).map(({ name }) => name)), [data]);
  const add = useCallback(
    async (whole: WholeGroove, said: string) => {
      const name = freeName(whole.groove.name, names);
      const { id, changes } = createdGroove({ ...whole, groove: { ...whole.groove, name } }, newId);
      if (!(await commit(`${said} ${name}`, changes))) return;
      open(id);
    },
    [names, commit, open],
  );
  const addMidi = useCallback(
    async (files: readonly File[]) => {
      const read = (await Promise.all(files.map(readMidi))).flatMap((whole) => whole ?? []);
      const [first] = read;
      if (!first) return;
      if (read.length === 1) return add(first, 'read the groove');
      // Several are heard before one is taken.
      const views = read.map((whole) => ({ name: whole.groove.name, view: offered(whole) }));
      trial.set({ of: 'MIDI files', offers: views, at: 0, keep: ({ view }) => void add(view, 'read the groove') });
    },
    [add],
  );
  const addRecording = useCallback(
    async ({ id, title }: { readonly id: string; readonly title: string }) => {
      try {
        await add(await heardGroove(id, title), 'took the rhythm of');
      } catch (error) {
        complain(`${title}: ${(error as Error).message}`);
      }
    },
    [add],
  );
  return { list: data, error, openId, open, add, addMidi, addRecording };
}

/** The groove of a MIDI file; null where it has none, which is told. */
async function readMidi(file: File): Promise<WholeGroove | null> {
  try {
    const midi = readMidiFile(new Uint8Array(await file.arrayBuffer()));
    const title = midi.names.find((name) => name.trim() !== '')?.trim() || titleFromFileName(file.name);
    const read = grooveFromMidi(midi, title.slice(0, 120), newId);
    if (!read) complain(`${file.name} has no notes: nothing to make a groove of.`);
    else if (read.faults.length > 0) tell(`${file.name}: ${read.faults.slice(0, 3).join('; ')}.`);
    return read;
  } catch (error) {
    complain(`${file.name}: ${(error as Error).message}`);
    return null;
  }
}

/** Between two questions whether a recording has been listened to, and how often it is asked. */
const LISTENING_MS = 700;
const MOST_QUESTIONS = 120;

/** The groove of a recording, once all of it has been listened to. */
async function heardGroove(id: string, title: string): Promise<WholeGroove> {
  for (let n = 0; n < MOST_QUESTIONS; n++) {
    const { groove } = await getJson<HeardGroove>(`/api/recordings/${id}/groove`);
    if (groove) return groove;
    if (n === 0) tell(`Listening to ${title} …`);
    await new Promise((resolve) => setTimeout(resolve, LISTENING_MS));
  }
  throw new Error('Its slices could not be listened to; Slice says why.');
}

/** An empty groove of four bars. */
export function emptyGroove(bpm: number): WholeGroove {
  const meters = [{ bar: 0, beats: 4, beatUnit: 4 as const }];
  return { groove: { name: 'Groove', bars: 4, meters, bpm, swing: 0.5, swingOf: 16 }, rows: [], notes: [], lanes: [] };
}
