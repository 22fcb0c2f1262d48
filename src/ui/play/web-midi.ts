import { createStore } from '../parts/store';
import { loseController, receiveMidi } from './controller';

/** What the browser's MIDI is doing. */
export type MidiState =
  | { readonly kind: 'off' }
  | { readonly kind: 'asking' }
  | { readonly kind: 'on'; readonly inputs: readonly { readonly id: string; readonly name: string }[] }
  | { readonly kind: 'unavailable'; readonly why: string };

export const midiState = createStore<MidiState>({ kind: 'off' });

let listening = new Set<MIDIInput>();

/** Asks the browser for its MIDI inputs and listens to all of them, also to those that come later. */
export async function openMidi(): Promise<void> {
  const now = midiState.get().kind;
  if (now === 'asking' || now === 'on') return;
  if (typeof navigator.requestMIDIAccess !== 'function') {
    midiState.set({
      kind: 'unavailable',
      why: 'This browser has no Web MIDI. Chromium and its relatives have it, and Firefox; the simulated controller works in all.',
    });
    return;
  }
  midiState.set({ kind: 'asking' });
  try {
    const access = await navigator.requestMIDIAccess();
    const look = () => follow(access);
    access.onstatechange = look;
    look();
  } catch (error) {
    const said = (error as Error).message;
    const isDenied = (error as Error).name === 'NotAllowedError' || (error as Error).name === 'SecurityError';
    midiState.set({
      kind: 'unavailable',
      why: isDenied
        ? 'MIDI is not allowed for this page. Allow it in the browser’s settings of the site, then ask again.'
        : `The browser could not open MIDI: ${said}. The simulated controller works without.`,
    });
  }
}

function follow(access: MIDIAccess): void {
  const there = [...access.inputs.values()].filter(({ state }) => state === 'connected');
  const next = new Set(there);
  for (const input of listening) {
    if (next.has(input)) continue;
    input.onmidimessage = null;
    loseController(input.id);
  }
  for (const input of there) {
    if (listening.has(input)) continue;
    input.onmidimessage = ({ data, timeStamp }) => data && receiveMidi(input.id, data, timeStamp);
  }
  listening = next;
  midiState.set({
    kind: 'on',
    inputs: there.map(({ id, name }) => ({ id, name: name ?? 'a controller without a name' })),
  });
}
