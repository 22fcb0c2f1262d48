import * as Comlink from 'comlink';
import { type Hearing, hear } from '@/core/describe/hearing';
import { unpackSound } from '@/core/describe/pack';
import type { Family } from '@/core/hit/model';
import type { Candidate } from '@/core/onset/detect';

/** A slice as the page knows it; `figures` are packed as `core/describe/pack` has them. */
export interface SliceToHear {
  readonly startFrame: number;
  readonly endFrame: number;
  readonly figures: string;
  readonly family: Family | null;
  readonly shelf: string | null;
}

/** Levels of a slice that are shown beside what it is heard as. */
export interface SliceLevels {
  readonly rootHz: number | null;
  readonly rootClarity: number | null;
  readonly peakDb: number;
  readonly lufs: number;
  readonly brightnessHz: number;
  readonly decay20Ms: number | null;
}

export interface Heard extends Hearing {
  readonly levels: readonly SliceLevels[];
}

const unpacked = new Map<string, ReturnType<typeof unpackSound>>();

/** Groups slices and tells how bare they are, away from the page's thread. */
const api = {
  hear(slices: readonly SliceToHear[], candidates: readonly Candidate[], sampleRate: number): Heard {
    const listened = slices.map(({ figures, ...rest }) => ({ ...rest, ...known(figures) }));
    const levels = listened.map(({ figures: { root, peakDb, lufs, brightnessHz, envelope } }) => ({
      rootHz: root?.hz ?? null,
      rootClarity: root?.clarity ?? null,
      peakDb,
      lufs,
      brightnessHz,
      decay20Ms: envelope.decay20Ms,
    }));
    const hearing = hear(
      listened,
      () => candidates,
      () => sampleRate,
    );
    return { ...hearing, levels };
  },
};

export type HearingWorker = typeof api;

function known(figures: string): ReturnType<typeof unpackSound> {
  const there = unpacked.get(figures);
  if (there) return there;
  const sound = unpackSound(Uint8Array.from(atob(figures), (c) => c.charCodeAt(0)));
  unpacked.set(figures, sound);
  return sound;
}

Comlink.expose(api);
