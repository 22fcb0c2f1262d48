import { mkdirSync, writeFileSync } from 'node:fs';
import { basename, dirname, join } from 'node:path';
import { zipSync } from 'fflate';
import { joinBytes } from '@/core/bytes';
import type { SampleEncoding } from '@/core/format/pcm';
import { HIT_INITIAL } from '@/core/hit/initial';
import type { TreatedHit } from '@/core/hit/key';
import { soundOf } from '@/core/hit/render';
import { bundleFiles, finished } from '@/core/kit/bundle';
import type { PlayedPad } from '@/core/kit/pad-sound';
import { BANK_SIZE, LAYER_INITIAL, PAD_INITIAL } from '@/core/kit/parameters';
import { rebuild } from '@/core/kit/rebuild';
import { titleFromFileName } from '@/core/naming/names';
import { safeFileName } from '@/core/naming/safe-names';
import { contiguousRegions } from '@/core/onset/select';
import type { Region } from '@/core/onset/split';
import { cut, frameCount } from '@/core/signal/audio';
import { eachFile, loadWithOnsets } from './files';

const FORMATS = ['wav', 'sfz', 'bundle'];

interface KitOptions {
  readonly out: string;
  readonly formats: string;
  readonly sensitivity?: number;
  readonly json: boolean;
}

export async function runKit(files: string[], options: KitOptions): Promise<void> {
  const formats = options.formats.split(',').map((f) => f.trim());
  const wrong = formats.find((f) => !FORMATS.includes(f));
  if (wrong !== undefined) {
    process.stderr.write(`error: "${wrong}" is no format that can be written; there are ${FORMATS.join(', ')}.\n`);
    process.exitCode = 2;
    return;
  }
  await eachFile(files, async (file) => {
    const { audio, format, onsets } = await loadWithOnsets(file, { sensitivity: options.sensitivity });
    const regions = contiguousRegions(
      onsets.map((o) => o.frame),
      frameCount(audio),
    );
    const proof = rebuild(audio, regions);
    const title = titleFromFileName(basename(file));
    const credit = { title, rightsKind: 'unknown' as const, owner: '', text: '', pads: ['all'] };
    const pads = regions.slice(0, BANK_SIZE).map(padOf);
    const open = (hit: TreatedHit) => soundOf(hit, (_, start, end) => cut(audio, start, end));
    const written = finished(
      bundleFiles({ name: title }, pads, [credit], open, { encoding: exportEncoding(format.encoding) }),
    ).map(({ path, pieces }) => ({ path, bytes: joinBytes([...pieces()]) }));
    const folder = join(options.out, safeFileName(title));
    for (const { path, bytes } of written) {
      const wanted = path.endsWith('.wav') ? formats.includes('wav') : formats.includes('sfz');
      if (!wanted) continue;
      mkdirSync(dirname(join(folder, path)), { recursive: true });
      writeFileSync(join(folder, path), bytes);
    }
    if (formats.includes('bundle')) {
      mkdirSync(options.out, { recursive: true });
      const entries = Object.fromEntries(written.map((f) => [f.path, f.bytes]));
      writeFileSync(join(options.out, `${safeFileName(title)}.zip`), zipSync(entries, { level: 0 }));
    }
    const leftOut = regions.length - pads.length;
    if (leftOut > 0)
      process.stderr.write(`${file}: the kit has ${BANK_SIZE} pads; the last ${leftOut} slices have none.\n`);
    const residualDb = proof.identical ? null : Math.round(proof.residualDb * 10) / 10;
    if (options.json)
      process.stdout.write(
        `${JSON.stringify({ file, slices: regions.length, pads: pads.length, identical: proof.identical, residualDb })}\n`,
      );
    else
      process.stdout.write(
        `${file}: ${regions.length} slices, rebuild ${proof.identical ? 'identical' : `off by ${residualDb} dBFS`}\n`,
      );
  });
}

/** A contiguous slice on a pad, unchanged: no fade, no level, so that the loop can be rebuilt exactly. */
function padOf(region: Region, position: number): PlayedPad {
  const number = String(position + 1).padStart(2, '0');
  const pad = {
    id: `pad-${number}00`,
    kitId: 'kit-0000',
    position,
    name: `Slice ${number}`,
    family: null,
    ...PAD_INITIAL,
    fadeOutMs: 0,
  };
  const hit = {
    id: `hit-${number}00`,
    name: pad.name,
    family: null,
    recordingId: 'file-0000',
    ...region,
    sliceId: null,
    ...HIT_INITIAL,
    steps: [],
  };
  const layer = { id: `layer-${number}`, padId: pad.id, hitId: hit.id, position: 0, ...LAYER_INITIAL };
  return { pad, layers: [{ layer, hit }], steps: [] };
}

/** Encoding of the files: the source's own where single precision holds it, 32-bit float otherwise. */
function exportEncoding(source: SampleEncoding): SampleEncoding {
  return source === 's32' || source === 'f64' ? 'f32' : source;
}
