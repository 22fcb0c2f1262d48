import type { SoundsView } from '@/contract/views';
import { getJson } from './api';

/** Descriptions of a recording's slices, with the figures of all of them. */
export interface KnownSounds extends Omit<SoundsView, 'sounds'> {
  readonly sounds: readonly (SoundsView['sounds'][number] & { readonly figures: string })[];
}

/**
 * Recordings whose slices could not be analysed: not retried automatically, because the same slice would fail again.
 */
export const unhearable = new Set<string>();

/** Fetches the descriptions of a recording's slices; only figures that are not cached yet are sent. */
export async function fetchSounds(recordingId: string, known: KnownSounds | undefined): Promise<KnownSounds> {
  const fetched = async (before: KnownSounds['sounds']) => {
    const after = before.reduce((latest, { id }) => Math.max(latest, id), 0);
    return together(await getJson<SoundsView>(`/api/recordings/${recordingId}/sounds?after=${after}`), before);
  };
  // An edge may be moved back to where it was: that stretch has been analysed before.
  return (await fetched(known?.sounds ?? [])) ?? ((await fetched([])) as KnownSounds);
}

/** Descriptions with the cached figures filled in; null where some are missing. */
export function together({ sounds, ...rest }: SoundsView, known: KnownSounds['sounds']): KnownSounds | null {
  const figuresOf = new Map(known.map(({ id, figures }) => [id, figures]));
  const whole = sounds.flatMap((sound) => {
    const figures = sound.figures ?? figuresOf.get(sound.id);
    return figures === undefined ? [] : [{ ...sound, figures }];
  });
  return whole.length === sounds.length ? { ...rest, sounds: whole } : null;
}
