'use client';

import { BarChart } from 'echarts/charts';
import { GridComponent } from 'echarts/components';
import { init, use } from 'echarts/core';
import { CanvasRenderer } from 'echarts/renderers';
import { useEffect, useRef } from 'react';
import { LOST_DB, THIRD_OCTAVE_NAMES } from '@/core/layering/bands';
import { FIGURE_FONT_FAMILY } from '@/picture/canvas';
import { useColours } from '../parts/canvas';

use([BarChart, GridComponent, CanvasRenderer]);

/** The chart reaches so far down, in dB: what loses more is lost. */
const LOWEST_DB = -12;
const HIGHEST_DB = 6;

/** What a sum has over the powers of its layers, by third octave; bands that lose more than 3 dB stand out. */
export function BandChart({ bands }: { bands: readonly (number | null)[] }) {
  const box = useRef<HTMLDivElement>(null);
  const colours = useColours();
  useEffect(() => {
    if (!box.current || !colours) return;
    const chart = init(box.current);
    const text = { color: colours.soft, fontSize: 11, fontFamily: `"${FIGURE_FONT_FAMILY}", monospace` };
    chart.setOption({
      animation: false,
      grid: { left: 44, right: 8, top: 8, bottom: 24 },
      xAxis: {
        type: 'category',
        data: THIRD_OCTAVE_NAMES.map((hz) => (hz < 1000 ? String(hz) : `${hz / 1000} k`)),
        axisLabel: { ...text, interval: 2 },
        axisLine: { lineStyle: { color: colours.line } },
        axisTick: { show: false },
      },
      yAxis: {
        type: 'value',
        min: LOWEST_DB,
        max: HIGHEST_DB,
        interval: 3,
        axisLabel: { ...text, formatter: (db: number) => `${db > 0 ? '+' : db < 0 ? '−' : ''}${Math.abs(db)} dB` },
        splitLine: { lineStyle: { color: colours.line } },
      },
      series: [
        {
          type: 'bar',
          barCategoryGap: '20%',
          data: bands.map((db) => ({
            value: db === null ? 0 : Math.max(LOWEST_DB, Math.min(HIGHEST_DB, db)),
            itemStyle: { color: db !== null && db < LOST_DB ? colours.madder : colours.verdigris },
          })),
        },
      ],
    });
    return () => chart.dispose();
  }, [bands, colours]);
  return (
    <div
      ref={box}
      role="img"
      aria-label="Sum of the layers against their own powers, by third octave"
      className="h-full w-full"
    />
  );
}
