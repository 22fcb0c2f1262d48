import { UndercroftError } from '@/core/errors';
import { audioKey, isPlain, type TreatedHit } from '@/core/hit/key';
import { type HitSound, Renderer, soundOf, soundThrough } from '@/core/hit/render';
import type { SourceOf } from '@/core/hit/source';
import type { Db } from '../db/open';
import { readAudio, readFormat } from '../importing/pcm';
import type { RenderStore, StoredRender } from './store';

/** Renders a hit unless the store has it, and stores the result. Slow: not for the request thread. */
export function rendered(db: Db, store: RenderStore, hit: TreatedHit, onStep?: () => void): void {
  const key = audioKey(hit);
  if (store.find(key)) return;
  const source: SourceOf = ({ recordingId, startFrame, endFrame }) => readAudio(db, recordingId, startFrame, endFrame);
  const { audio } = new Renderer(0).render(hit, source, onStep);
  store.keep(key, audio);
}

/** A hit's sound for printing: a plain one is read from its recording, any other from its render. */
export function openHit(db: Db, store: RenderStore, hit: TreatedHit): HitSound {
  const stretch = ({ recordingId }: { recordingId: string }, start: number, end: number) =>
    readAudio(db, recordingId, start, end);
  const { peak } = readFormat(db, hit.recordingId);
  if (isPlain(hit)) return soundOf(hit, stretch, peak);
  rendered(db, store, hit);
  const found = store.find(audioKey(hit));
  // A render larger than the store is computed each time.
  return found ? storedSound(store, found, hit) : soundOf(hit, stretch);
}

function storedSound(store: RenderStore, render: StoredRender, hit: TreatedHit): HitSound {
  const { sampleRate, channelCount, frames, loudest } = render;
  return soundThrough(hit, {
    sampleRate,
    channelCount,
    frames,
    loudest,
    read: (from, to) => {
      const audio = store.read(render, from, to);
      if (!audio) throw new UndercroftError('interrupted', 'A sound that was rendered has gone meanwhile; try again.');
      return audio;
    },
  });
}
