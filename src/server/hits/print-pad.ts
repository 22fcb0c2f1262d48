import type { PrintPadRequest } from '@/contract/hits';
import { resolvedKit } from '@/contract/resolved';
import { UndercroftError } from '@/core/errors';
import { isPlain } from '@/core/hit/key';
import type { HitSound } from '@/core/hit/render';
import { padAsHit } from '@/core/kit/layered';
import { soundingUnder, takesOf } from '@/core/kit/pad-sound';
import { playedSounds, poolSounds, wholeStroke } from '@/core/kit/render';
import { heardAgain } from '@/core/kit/whole-kit';
import type { PadSound } from '@/core/play/program';
import { peakOf } from '@/core/signal/audio';
import { playedPads } from '../exporting/kit-bundle';
import { openHit } from '../renders/sound';
import { kitView } from '../views/kits';
import { type Parts, type Printed, print } from './print';

/**
 * Prints a pad as one stroke of it sounds, with all that shapes it but its drift, to a recording and a hit of its own; the
 * rights are those of every recording it plays.
 */
export async function printPad(
  parts: Parts,
  kitId: string,
  padId: string,
  { name, velocity, ...by }: PrintPadRequest,
): Promise<Printed> {
  const { db, renders, threads } = parts;
  const view = resolvedKit(kitView(db, kitId));
  const found = playedPads(view).find(({ pad }) => pad.id === padId);
  const inRange = (found?.layers ?? []).filter(
    ({ layer }) => velocity >= layer.lowVelocity && velocity <= layer.highVelocity,
  );
  const [take] = takesOf(inRange);
  if (!found || !take) throw new UndercroftError('not-found', 'The pad has no sound for that velocity (any more).');
  const layers = soundingUnder(inRange, take);
  for (const { hit } of layers) if (!isPlain(hit)) await threads.renders.ensure(hit);
  const pool = poolSounds(
    layers.map(({ hit }) => hit),
    (hit) => openHit(db, renders, hit),
  );
  const sampleRate = pool.soundOf(take.hit)?.sampleRate ?? 48_000;
  const pad = { ...heardAgain(found.pad), driftCents: 0, driftDb: 0 };
  const { memory, sounds } = playedSounds([{ ...found, pad, layers }], pool, sampleRate, view.kit.tempoBpm);
  const channels = wholeStroke(sounds[0] as PadSound, memory, sampleRate, velocity);
  const hit = padAsHit(name, layers, sampleRate);
  if (!hit) throw new UndercroftError('not-found', 'The pad has no sound (any more).');
  const played: HitSound = {
    ...{ sampleRate, channelCount: 2, frames: channels[0].length, gain: 1, loudest: peakOf(channels) },
    read: (from, to) => ({ sampleRate, channels: channels.map((channel) => channel.subarray(from, to)) }),
  };
  const note = () => `Printed from the pad ${pad.name} of the kit ${view.kit.name}, struck at ${velocity}.`;
  return print(parts, { ...hit, family: pad.family }, note, by, true, played);
}
