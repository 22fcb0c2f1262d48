import { RENDER_HEADERS } from '@/contract/hits';
import { decodeFrames, type SampleEncoding } from '@/core/format/pcm';
import { audioKey, sourceKey, type TreatedHit } from '@/core/hit/key';
import { levelled, type Rendered, Renderer } from '@/core/hit/render';
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

/** A hit's sound: fetched from the server where it is stored, rendered here where it is a draft. */
export async function soundOf(hit: TreatedHit, recording: RecordingFormat): Promise<Rendered> {
  const key = audioKey(hit);
  const { startFrame, endFrame } = hit;
  const known = rendered.get(key) ?? (blocks.has(recording, startFrame, endFrame) ? null : await fetchRender(hit, key));
  if (known) return levelled(hit, known);
  const from = sourceKey(hit);
  const source = sources.get(from) ?? (await blocks.read(recording, startFrame, endFrame));
  // The same object again: what was found in it, as its onsets, need not be looked for again.
  sources.set(from, source);
  return renderer.render(hit, source);
}

async function fetchRender({ id }: TreatedHit, key: string): Promise<Audio | null> {
  // A stretch that is no hit of the workspace.
  if (id === '') return null;
  const answer = await fetch(`/api/hits/${id}/sound?key=${encodeURIComponent(key)}`);
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
