import type { SoundsView } from '@/contract/views';
import { getJson } from './api';

/** What is heard in a recording's slices, the figures of all of them among it. */
export interface KnownSounds extends Omit<SoundsView, 'sounds'> {
  readonly sounds: readonly (SoundsView['sounds'][number] & { readonly figures: string })[];
}

/** Recordings whose slices could not be listened to: they are not asked for again by themselves, since the same slice would fail again. */
export const unhearable = new Set<string>();

/** Fetches what is heard in a recording's slices: of figures those that are not among what is known. */
export async function fetchSounds(recordingId: string, known: KnownSounds | undefined): Promise<KnownSounds> {
  const fetched = async (before: KnownSounds['sounds']) => {
    const after = before.reduce((latest, { id }) => Math.max(latest, id), 0);
    return together(await getJson<SoundsView>(`/api/recordings/${recordingId}/sounds?after=${after}`), before);
  };
  // An edge may be back where it was before this page came: that sound was listened to long ago.
  return (await fetched(known?.sounds ?? [])) ?? ((await fetched([])) as KnownSounds);
}

/** Sounds with what is known of those whose figures were left out; null where those of one are not. */
export function together({ sounds, ...rest }: SoundsView, known: KnownSounds['sounds']): KnownSounds | null {
  const figuresOf = new Map(known.map(({ id, figures }) => [id, figures]));
  const whole = sounds.flatMap((sound) => {
    const figures = sound.figures ?? figuresOf.get(sound.id);
    return figures === undefined ? [] : [{ ...sound, figures }];
  });
  return whole.length === sounds.length ? { ...rest, sounds: whole } : null;
}
