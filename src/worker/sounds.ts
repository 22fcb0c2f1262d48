import { RENDER_HEADERS } from '@/contract/hits';
import { decodeFrames, type SampleEncoding } from '@/core/format/pcm';
import { audioDigest } from '@/core/hit/digest';
import { audioKey, sourceKey, stretchesOf, type TreatedHit } from '@/core/hit/key';
import type { Hit } from '@/core/hit/model';
import { levelled, Renderer } from '@/core/hit/render';
import type { Rendered, SourceOf } from '@/core/hit/source';
import type { LayerSound } from '@/core/layering/layers';
import { type Audio, byteLength } from '@/core/signal/audio';
import { ByteCache } from '@/core/signal/byte-cache';
import { type BlockSource, Blocks } from './blocks';

/** What is to be known of a recording to read and decode its samples. */
export interface RecordingFormat extends BlockSource {
  readonly encoding: SampleEncoding;
}

/** Size of each cache: of sources, of intermediate steps and of renders. */
const KEPT_BYTES = 128 * 1024 * 1024;

const renderer = new Renderer(KEPT_BYTES);
export const blocks = new Blocks<RecordingFormat>(KEPT_BYTES, fetchAudio);
const sources = new ByteCache<Audio>(KEPT_BYTES / 4, byteLength);
export const rendered = new ByteCache<Audio>(KEPT_BYTES, byteLength);

/** Formats of recordings by id. */
const formats = new Map<string, Promise<RecordingFormat>>();

/** A hit's sound: fetched from the server where it is stored, rendered here where it is a draft. */
export async function soundOf(hit: TreatedHit, recording: RecordingFormat): Promise<Rendered> {
  const known = rendered.get(audioKey(hit)) ?? ((await isAtHand(hit, recording)) ? null : await fetchRender(hit));
  if (known) return levelled(hit, known);
  return renderer.render(hit, await sourcesOf(hit, recording));
}

/** The layers of a layered hit, heard or not, as they go into its sum. */
export async function layersOf(hit: TreatedHit, recording: RecordingFormat): Promise<LayerSound[]> {
  return renderer.layersOf(hit, await sourcesOf(hit, recording));
}

/** The stretches that a hit is made of, read. */
async function sourcesOf(hit: TreatedHit, recording: RecordingFormat): Promise<SourceOf> {
  const read = new Map<string, Audio>();
  for (const stretch of stretchesOf(hit).filter(({ voice }) => !voice)) {
    const key = sourceKey(stretch);
    const { startFrame, endFrame } = stretch;
    const source = sources.get(key) ?? (await blocks.read(await formatOf(stretch, recording), startFrame, endFrame));
    // The same object again: what was found in it, as its onsets, need not be looked for again.
    sources.set(key, source);
    read.set(key, source);
  }
  return (stretch) => read.get(sourceKey(stretch)) as Audio;
}

async function isAtHand(hit: TreatedHit, recording: RecordingFormat): Promise<boolean> {
  // A stroke of a voice is made sooner than it is fetched.
  for (const stretch of stretchesOf(hit).filter(({ voice }) => !voice)) {
    if (stretch.recordingId !== recording.id && !formats.has(stretch.recordingId)) return false;
    if (!blocks.has(await formatOf(stretch, recording), stretch.startFrame, stretch.endFrame)) return false;
  }
  return true;
}

/** The format of a stretch's recording: `recording` where it is that one, otherwise asked for once. */
function formatOf({ recordingId }: Hit, recording: RecordingFormat): Promise<RecordingFormat> {
  if (recordingId === recording.id) return Promise.resolve(recording);
  const known = formats.get(recordingId) ?? fetchFormat(recordingId);
  formats.set(recordingId, known);
  // What failed is asked for again.
  known.catch(() => formats.delete(recordingId));
  return known;
}

async function fetchFormat(recordingId: string): Promise<RecordingFormat> {
  const answer = await fetch(`/api/recordings/${recordingId}`);
  if (!answer.ok) throw new Error(`The recording of a layer could not be fetched (${answer.status}).`);
  return (await answer.json()) as RecordingFormat;
}

async function fetchRender(hit: TreatedHit): Promise<Audio | null> {
  // A stretch that is no hit of the workspace.
  if (hit.id === '') return null;
  const answer = await fetch(`/api/hits/${hit.id}/sound?digest=${await audioDigest(hit)}`);
  if (!answer.ok) return null;
  const told = (header: string) => Number(answer.headers.get(header));
  const channelCount = told(RENDER_HEADERS.channelCount);
  const floats = new Float32Array(await answer.arrayBuffer());
  const frames = told(RENDER_HEADERS.frames);
  if (floats.length !== frames * channelCount) return null;
  const channels = Array.from({ length: channelCount }, (_, c) =>
    Float32Array.from({ length: frames }, (_, i) => floats[i * channelCount + c] as number),
  );
  return { sampleRate: told(RENDER_HEADERS.sampleRate), channels };
}

async function fetchAudio(recording: RecordingFormat, start: number, end: number): Promise<Audio> {
  const { id, encoding, channelCount, sampleRate } = recording;
  const answer = await fetch(`/api/recordings/${id}/pcm?start=${start}&frames=${end - start}`);
  if (!answer.ok) throw new Error(`The samples could not be fetched (${answer.status}).`);
  return { sampleRate, channels: decodeFrames(encoding, new Uint8Array(await answer.arrayBuffer()), channelCount) };
}
