import type { TreatedHit } from '@/core/hit/key';
import { type Covered, maskingOf, struckSpectrum } from '@/core/layering/masking';
import { fromDb } from '@/core/signal/units';
import { type RecordingFormat, soundOf } from './sounds';

/** A sound of a kit as it is struck. */
export interface StruckSound {
  readonly name: string;
  readonly hit: TreatedHit;
  readonly recording: RecordingFormat;
  readonly levelDb: number;
}

/** A sound among the others of a kit: spectra of their first 100 ms, and who covers whom where. */
export interface Masking {
  readonly own: Float32Array;
  readonly others: readonly { readonly name: string; readonly spectrum: Float32Array }[];
  readonly by: readonly Covered[];
  readonly of: readonly Covered[];
}

export async function maskingAmong(own: StruckSound, others: readonly StruckSound[]): Promise<Masking> {
  const spectrumOf = async ({ hit, recording, levelDb }: StruckSound) => {
    const { audio, gain } = await soundOf(hit, recording);
    return struckSpectrum(audio, gain * fromDb(levelDb));
  };
  const mine = await spectrumOf(own);
  const theirs: { name: string; spectrum: Float32Array }[] = [];
  for (const other of others) theirs.push({ name: other.name, spectrum: await spectrumOf(other) });
  const { by, of } = maskingOf(
    mine,
    theirs.map(({ spectrum }) => spectrum),
  );
  return { own: mine, others: theirs, by, of };
}
