import type { HitFigures } from '@/core/hit/inspect';
import { length, minus, pitch } from '../parts/figures';

/** What the hit measures now, and what it was. */
export function Figures({
  now,
  was,
  sampleRate,
}: {
  now: HitFigures | null;
  was: HitFigures | null;
  sampleRate: number;
}) {
  const level = (db: number, unit: string) => (Number.isFinite(db) ? `${minus(db.toFixed(1))} ${unit}` : `−∞ ${unit}`);
  const rows: readonly (readonly [string, (f: HitFigures) => string])[] = [
    ['True peak', (f) => level(f.truePeakDbtp, 'dBTP')],
    ['Loudness', (f) => level(f.lufs, 'LUFS')],
    ['Noise', (f) => (Number.isFinite(f.noiseDbfs) ? level(f.noiseDbfs, 'dBFS') : 'none heard')],
    ['Root', (f) => (f.rootHz === null ? 'none' : pitch(f.rootHz))],
    ['Tail', (f) => length(f.tailMs / 1000)],
    ['Length', (f) => length(f.frames / sampleRate)],
  ];
  return (
    <dl
      aria-label="Figures of the hit"
      className="flex h-[30px] flex-none items-center gap-4 overflow-hidden border-line border-y bg-paper px-4 text-[12px]"
    >
      {rows.map(([name, text]) => (
        <div key={name} className="flex min-w-0 flex-auto items-baseline gap-1 whitespace-nowrap">
          <dt className="text-soft">{name}</dt>
          <dd className="figure font-semibold">{now ? text(now) : '…'}</dd>
          {now && was && text(was) !== text(now) && (
            <dd className="figure truncate text-soft">was {text(was).replace(/ dBTP| LUFS| dBFS/, '')}</dd>
          )}
        </div>
      ))}
    </dl>
  );
}
