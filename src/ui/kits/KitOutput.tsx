'use client';

import { useEffect, useState } from 'react';
import { toDb } from '@/core/signal/units';
import { Choice } from '../parts/Choice';
import { decibels, minus } from '../parts/figures';
import { useStore } from '../parts/store';
import { soundNow } from '../sound/open-sound';
import { OUTPUT_BUFFERS, outputBuffer, readOutputBuffer, setOutputBuffer } from '../sound/output-buffer';

const LOOK_MS = 100;
const LINE = 'flex h-[26px] items-center gap-2 border-line border-b';
const NAME = 'w-[116px] flex-none';

/** Loudness, what the limiter takes away, and the latency of each part of the way. */
export function KitOutput({ limits }: { limits: boolean }) {
  const [shown, setShown] = useState({
    lufs: Number.NEGATIVE_INFINITY,
    reducedDb: 0,
    base: 0,
    output: 0,
    limiter: 0,
    ranDry: 0,
  });
  const buffer = useStore(outputBuffer);
  useEffect(() => {
    readOutputBuffer();
    const timer = setInterval(() => {
      const engine = soundNow()?.engine;
      if (engine)
        setShown({
          lufs: engine.lufs,
          reducedDb: toDb(engine.takeReduced()),
          ...engine.latencies,
          ranDry: engine.ranDry,
        });
    }, LOOK_MS);
    return () => clearInterval(timer);
  }, []);
  const ms = (seconds: number) => `${(1000 * seconds).toFixed(1)} ms`;
  const rows = [
    ['Loudness', shown.lufs > -70 ? `${minus(shown.lufs.toFixed(1))} LUFS` : '−∞ LUFS', 'Momentary: the last 400 ms'],
    ['Limiter takes', limits ? decibels(shown.reducedDb) : 'off', 'The most in the last moment; ceiling −0.1 dBFS'],
    [
      'Browser',
      `${ms(shown.base)} + ${ms(shown.output)}`,
      'What the browser says of its own processing and of the output',
    ],
    ['Undercroft', ms(shown.limiter), 'The look-ahead of the limiter; strokes themselves wait for nothing'],
  ] as const;
  return (
    <>
      {rows.map(([name, value, title]) => (
        <div key={name} className={LINE} title={title}>
          <span className={NAME}>{name}</span>
          <span className="figure">{value}</span>
        </div>
      ))}
      <div
        className={LINE}
        title="A short buffer answers sooner, and crackles where the machine cannot keep up. It changes when the page is loaded again."
      >
        <span className={NAME}>Buffer</span>
        <Choice label="Buffer" value={buffer} options={OUTPUT_BUFFERS} onChoose={setOutputBuffer} />
        {shown.ranDry > 0 && <span className="figure text-[12px] text-soft">ran dry {shown.ranDry}×</span>}
      </div>
    </>
  );
}
