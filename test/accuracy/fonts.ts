import { createHash } from 'node:crypto';
import { existsSync, readFileSync } from 'node:fs';

const FOLDER = '/usr/share/sounds/sf2';

/**
 * SoundFonts of Debian packages, parted by lineage: what tunes the method never reports it. Debian packages:
 * timgm6mb-soundfont, csound-soundfont | fluid-soundfont-gm, avldrums.lv2-soundfont (drums only: its music is another's).
 */
export const TUNING: Readonly<Record<string, readonly string[]>> = {
  tim: [`${FOLDER}/TimGM6mb.sf2`],
  bank: [`${FOLDER}/sf_GMbank.sf2`],
};
export const REPORT: Readonly<Record<string, readonly string[]>> = {
  fluid: [`${FOLDER}/FluidR3_GM.sf2`],
  pearl: [`${FOLDER}/FluidR3_GM.sf2`, `${FOLDER}/Black_Pearl_4_LV2.sf2`],
};

/**
 * What starts are learnt from: more fonts, with their kits by program. Debian packages as above and
 * denemo-data, minuet-data, opl3-soundfont; and the font inside the npm package @coderline/alphatab.
 */
export const LEARNING: Readonly<
  Record<string, { readonly fonts: readonly string[]; readonly programs: readonly number[] }>
> = {
  tim: { fonts: [`${FOLDER}/TimGM6mb.sf2`], programs: [0, 8, 16, 24, 25, 32] },
  bank: { fonts: [`${FOLDER}/sf_GMbank.sf2`], programs: [0, 8, 16, 24, 25, 32] },
  air: { fonts: [`${FOLDER}/A320U.sf2`], programs: [0, 8, 16, 24, 25, 32] },
  general: {
    fonts: ['/usr/share/minuet/soundfonts/GeneralUser-v1.47.sf2'],
    programs: [0, 1, 26, 8, 16, 24, 25, 32],
  },
  opl: { fonts: [`${FOLDER}/OPL-3_FM_128M.sf2`], programs: [0] },
  sonivox: { fonts: ['node_modules/@coderline/alphatab/dist/soundfont/sonivox.sf2'], programs: [0] },
};

/** Hashes of every sample inside a SoundFont 2.01 file (E-mu, "SoundFont technical specification 2.01", chunks smpl and shdr). */
export function sampleHashes(path: string): Set<string> {
  if (!existsSync(path)) throw new Error(`${path} is missing: install the Debian packages named in docs/onsets.md.`);
  const file = readFileSync(path);
  let smpl: Buffer | null = null;
  let shdr: Buffer | null = null;
  const walk = (from: number, to: number) => {
    for (let at = from; at + 8 <= to; ) {
      const id = file.toString('latin1', at, at + 4);
      const size = file.readUInt32LE(at + 4);
      const body = at + 8;
      if (id === 'LIST') walk(body + 4, body + size);
      else if (id === 'smpl') smpl = file.subarray(body, body + size);
      else if (id === 'shdr') shdr = file.subarray(body, body + size);
      at = body + size + (size % 2);
    }
  };
  walk(12, file.length);
  if (!smpl || !shdr) throw new Error(`${path} is not a SoundFont.`);
  const hashes = new Set<string>();
  const headers = shdr as Buffer;
  for (let at = 0; at + 46 < headers.length; at += 46) {
    const start = headers.readUInt32LE(at + 20) * 2;
    const end = headers.readUInt32LE(at + 24) * 2;
    // Very short samples (single cycles, silence) may coincide between unrelated fonts and hold no attack.
    if (end - start > 4000)
      hashes.add(
        createHash('sha256')
          .update((smpl as Buffer).subarray(start, end))
          .digest('hex'),
      );
  }
  return hashes;
}

/** Throws when any audio is in both the tuning and the report set; returns how many samples were compared. */
export function requireDisjoint(
  tuningFonts: readonly string[] = Object.values(TUNING).flat(),
  reportFonts: readonly string[] = Object.values(REPORT).flat(),
): { tuning: number; report: number } {
  const all = (paths: readonly string[]) => new Set([...new Set(paths)].flatMap((path) => [...sampleHashes(path)]));
  const tuning = all(tuningFonts);
  const report = all(reportFonts);
  const shared = [...tuning].filter((hash) => report.has(hash));
  if (shared.length > 0) throw new Error(`${shared.length} samples are in both the tuning and the report set.`);
  return { tuning: tuning.size, report: report.size };
}
