import type { Cancelled } from '@/core/describe/spectrum';
import { CLICKS_DBFS, type HitFigures } from '@/core/hit/inspect';
import { decibels, length, minus, pitch } from '../parts/figures';

/** Bands with what each loses, as "63 Hz −9.1 dB". */
export function toldBands(bands: readonly Cancelled[]): string {
  return bands.map(({ hz, lossDb }) => `${Math.round(hz)} Hz ${decibels(Math.max(-60, lossDb))}`).join(', ');
}

/** What the hit measures now, and what it was. */
export function Figures({
  now,
  was,
  sampleRate,
  roots,
  onFade,
}: {
  now: HitFigures | null;
  was: HitFigures | null;
  sampleRate: number;
  /** The root before and after, in hertz, where it was set by hand. */
  roots: { readonly was: number; readonly now: number } | null;
  /** Fades the end, where it stops so loud that it clicks. */
  onFade: () => void;
}) {
  const level = (db: number, unit: string) => (Number.isFinite(db) ? `${minus(db.toFixed(1))} ${unit}` : `−∞ ${unit}`);
  const rows: readonly (readonly [string, (f: HitFigures) => string])[] = [
    ['True peak', (f) => level(f.truePeakDbtp, 'dBTP')],
    ['Loudness', (f) => level(f.lufs, 'LUFS')],
    ['Noise', (f) => (Number.isFinite(f.noiseDbfs) ? level(f.noiseDbfs, 'dBFS') : 'none heard')],
    [
      'Root',
      (f) => {
        const hz = roots ? (f === now ? roots.now : roots.was) : f.rootHz;
        return hz === null ? 'none' : pitch(hz);
      },
    ],
    ['Tail', (f) => length(f.tailMs / 1000)],
    ['Length', (f) => length(f.frames / sampleRate)],
  ];
  const worst = now?.cancelled.reduce((a, b) => (b.lossDb < a.lossDb ? b : a), now.cancelled[0] as Cancelled);
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
      {now && now.endDbfs > CLICKS_DBFS && (
        <div className="flex items-baseline gap-1 whitespace-nowrap text-madder">
          <dt>Stops at</dt>
          <dd className="figure font-semibold">{level(now.endDbfs, 'dBFS')}</dd>
          <dd>
            <button type="button" className="underline" title="It clicks there: add a fade of 10 ms" onClick={onFade}>
              fade it
            </button>
          </dd>
        </div>
      )}
      {worst && (
        <div
          className="flex items-baseline gap-1 whitespace-nowrap text-madder"
          title={`The sides cancel in mono: ${toldBands(now?.cancelled ?? [])}`}
        >
          <dt>In mono</dt>
          <dd className="figure font-semibold">{toldBands([worst])}</dd>
        </div>
      )}
    </dl>
  );
}
