import type { RecordingView } from '@/contract/views';
import { newSharedSound, RING_CHANNELS } from '@/core/capture/sound-ring';
import { RHYTHMS } from '@/core/drummer/rhythms';
import { CAPTURE, CAPTURE_WORKLET, FEED } from '@/engine/capture-names';
import type { FeedPlan } from '@/worker/recorder/feed';
import type { OpenInput } from '@/worker/recorder.worker';
import { openSound } from '../sound/open-sound';

/** What can be recorded. */
export type InputChoice =
  /** An input of the machine; its id is empty for the one that the browser chooses. */
  | { readonly kind: 'device'; readonly deviceId: string; readonly name: string }
  | { readonly kind: 'output' }
  | { readonly kind: 'drummer'; readonly rhythm: number; readonly speed: number }
  | { readonly kind: 'simulated'; readonly recording: RecordingView };

/** An input that is open: its sound runs into shared memory until it is let go. */
export interface OpenedInput {
  readonly from: OpenInput['from'];
  readonly label: string;
  readonly latencyMs: number | null;
  /** What the browser does to the sound although it was asked not to. */
  readonly doctored: readonly string[];
  /** An instrument, which the worker plays into this memory. */
  readonly feed: OpenInput['feed'];
  readonly monitor: (isOn: boolean) => void;
  readonly letGo: () => void;
}

/** A worker that stands still for this long loses nothing. */
const CAPTURE_S = 40;
const FEED_S = 2;

/** Pieces of a track, of some 10 ms each, that wait for a worker that stands still. */
const MOST_WAITING = 4000;

/** See `TrackArrivals`. */
type TrackProcessor = new (options: {
  readonly track: MediaStreamTrack;
  readonly maxBufferSize: number;
}) => { readonly readable: ReadableStream<AudioData> };

/** Processing that is not wanted of an input, and what it is called. */
const DOCTORING = [
  ['echoCancellation', 'echo cancelling'],
  ['noiseSuppression', 'noise suppression'],
  ['autoGainControl', 'automatic gain'],
] as const;

/** Opens an input. Rejects with what is wrong and what to do. `onGone` is called when it is unplugged. */
export async function openInput(choice: InputChoice, onGone: (reason: string) => void): Promise<OpenedInput> {
  if (!globalThis.crossOriginIsolated)
    throw new Error(
      'The page is not isolated, so the browser withholds the shared memory that recording needs. Open it at the address that was printed at the start.',
    );
  if (choice.kind === 'device') return openDevice(choice, onGone);
  const sound = await openSound();
  const { context } = sound.engine;
  const capture = await captureIn(context);
  sound.engine.resume();
  if (choice.kind === 'output') {
    sound.engine.tap(capture.node);
    return {
      ...{ from: { sound: capture.sound, sampleRate: context.sampleRate, channelCount: 2 }, label: 'our own output' },
      ...{ latencyMs: null, doctored: [], feed: null, monitor: () => {} },
      letGo: () => {
        sound.engine.untap(capture.node);
        capture.close();
      },
    };
  }
  const played = newSharedSound(FEED_S * context.sampleRate);
  const node = new AudioWorkletNode(context, FEED, {
    ...{ numberOfInputs: 0, outputChannelCount: [RING_CHANNELS], processorOptions: played },
  });
  node.connect(capture.node);
  return {
    ...{ from: { sound: capture.sound, sampleRate: context.sampleRate, channelCount: 1 }, label: labelOf(choice) },
    ...{ latencyMs: null, doctored: [], feed: { plan: planOf(choice), sound: played, sampleRate: context.sampleRate } },
    monitor: monitorOf(node, context),
    letGo: () => {
      node.disconnect();
      node.port.postMessage('close');
      capture.close();
    },
  };
}

/** An instrument's plan; each take of it is another one. */
export function planOf(choice: InputChoice & { kind: 'drummer' | 'simulated' }): FeedPlan {
  const seed = Math.floor(Math.random() * 2 ** 31);
  return choice.kind === 'drummer'
    ? { kind: 'drummer', rhythm: choice.rhythm, speed: choice.speed, seed }
    : { kind: 'simulated', recording: choice.recording, seed };
}

/** An instrument in words. */
export function labelOf(choice: InputChoice): string {
  switch (choice.kind) {
    case 'device':
      return choice.name;
    case 'output':
      return 'our own output';
    case 'drummer':
      return `fairground drummer, ${RHYTHMS[choice.rhythm]?.name ?? ''} at ${choice.speed.toFixed(2)}`;
    case 'simulated':
      return `simulated input: ${choice.recording.title}`;
  }
}

async function openDevice(
  { deviceId, name }: InputChoice & { kind: 'device' },
  onGone: (reason: string) => void,
): Promise<OpenedInput> {
  const stream = await askFor(deviceId);
  const [track] = stream.getAudioTracks() as [MediaStreamTrack];
  const settings = track.getSettings() as MediaTrackSettings & { readonly latency?: number };
  track.addEventListener('ended', () =>
    onGone(
      `The input ${track.label || name} is gone: it was unplugged, or another program took it. What came before is kept.`,
    ),
  );
  const told = {
    label: track.label || name,
    latencyMs: settings.latency === undefined ? null : 1000 * settings.latency,
    doctored: DOCTORING.flatMap(([key, words]) => (settings[key] ? [words] : [])),
    feed: null,
  };
  try {
    return { ...told, ...(await heardFrom(stream, track, settings)) };
  } catch (error) {
    track.stop();
    throw error;
  }
}

/** Has a track's sound arrive: as its own data where the browser gives that, else through the audio thread. */
async function heardFrom(
  stream: MediaStream,
  track: MediaStreamTrack,
  { sampleRate, channelCount }: MediaTrackSettings,
): Promise<Pick<OpenedInput, 'from' | 'monitor' | 'letGo'>> {
  const { MediaStreamTrackProcessor: Processor } = globalThis as { MediaStreamTrackProcessor?: TrackProcessor };
  let context: AudioContext | null = null;
  let monitor: ((isOn: boolean) => void) | null = null;
  const opened = async () => {
    context ??= await contextAt(sampleRate);
    await context.resume();
    return context;
  };
  const hear = async (isOn: boolean) => {
    if (!isOn && !monitor) return;
    const own = await opened();
    monitor ??= monitorOf(own.createMediaStreamSource(stream), own);
    monitor(isOn);
  };
  if (Processor) {
    return {
      from: { track: new Processor({ track, maxBufferSize: MOST_WAITING }).readable },
      monitor: (isOn) => void hear(isOn),
      letGo: () => {
        track.stop();
        void context?.close();
      },
    };
  }
  const own = await opened();
  const source = own.createMediaStreamSource(stream);
  const capture = await captureIn(own);
  source.connect(capture.node);
  return {
    from: { sound: capture.sound, sampleRate: own.sampleRate, channelCount: channelCount === 1 ? 1 : 2 },
    monitor: monitorOf(source, own),
    letGo: () => {
      track.stop();
      source.disconnect();
      capture.close();
      void own.close();
    },
  };
}

/** Asks the browser for an input as it is, unprocessed. */
async function askFor(deviceId: string): Promise<MediaStream> {
  if (!navigator.mediaDevices)
    throw new Error('The browser offers no inputs here. Open the page at the address that was printed at the start.');
  const audio: MediaTrackConstraints = {
    ...{ echoCancellation: false, noiseSuppression: false, autoGainControl: false },
    channelCount: { ideal: 2 },
    ...(deviceId === '' ? {} : { deviceId: { exact: deviceId } }),
  };
  try {
    return await navigator.mediaDevices.getUserMedia({ audio });
  } catch (error) {
    throw new Error(reasonOf(error as DOMException));
  }
}

/** Why there is no input, and what to do (W3C Media Capture and Streams, "getUserMedia"). */
function reasonOf({ name, message }: DOMException): string {
  switch (name) {
    case 'NotAllowedError':
      return 'The browser may not use the microphone. Allow it for this page - beside the address - and press Record again.';
    case 'NotFoundError':
      return 'No input was found. Plug a microphone in and press Record again, or choose another input: the drummer needs none.';
    case 'NotReadableError':
      return 'The input is in use by another program, or the system withholds it. Close that program and press Record again.';
    case 'OverconstrainedError':
      return 'That input is not there any more. Choose another one.';
    default:
      return `The input could not be opened: ${message}.`;
  }
}

/** A context at the input's own rate, so that nothing is resampled; some browsers insist on that of the output. */
async function contextAt(sampleRate: number | undefined): Promise<AudioContext> {
  if (sampleRate !== undefined)
    try {
      return new AudioContext({ sampleRate, latencyHint: 'playback' });
    } catch {
      // See above.
    }
  return new AudioContext({ latencyHint: 'playback' });
}

const loaded = new WeakMap<BaseAudioContext, Promise<void>>();

/** A node that carries what comes into it to a worker. */
async function captureIn(context: AudioContext) {
  const loading = loaded.get(context) ?? context.audioWorklet.addModule(CAPTURE_WORKLET);
  loaded.set(context, loading);
  // What failed is asked for again.
  loading.catch(() => loaded.delete(context));
  await loading;
  const sound = newSharedSound(CAPTURE_S * context.sampleRate);
  const node = new AudioWorkletNode(context, CAPTURE, {
    ...{ numberOfOutputs: 0, channelCount: RING_CHANNELS, channelCountMode: 'explicit' },
    ...{ channelInterpretation: 'discrete', processorOptions: sound },
  });
  return { node, sound, close: () => node.port.postMessage('close') };
}

function monitorOf(node: AudioNode, context: AudioContext): (isOn: boolean) => void {
  let isHeard = false;
  return (isOn) => {
    if (isOn === isHeard) return;
    isHeard = isOn;
    if (isOn) node.connect(context.destination);
    else node.disconnect(context.destination);
  };
}
