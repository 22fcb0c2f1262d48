'use client';

import { POINT, POINT_KEYS, type Point } from '@/core/treatment/equaliser';
import { ParameterRows } from '../parts/ParameterRows';

/** The points of an equaliser by their numbers, and the rows of the chosen one. */
export function PointEditor({
  points,
  index,
  onChoose,
  onPoints,
}: {
  points: readonly Point[];
  index: number;
  onChoose: (index: number) => void;
  onPoints: (points: readonly Point[], said: string, done: boolean) => void;
}) {
  const point = points[index];
  const changed = (set: Partial<Point>) => points.map((p, n) => (n === index ? { ...p, ...set } : p));
  return (
    <>
      <p className="flex h-[26px] items-center gap-1 border-line border-b text-[12px]">
        {points.map((_, n) => (
          <button
            // biome-ignore lint/suspicious/noArrayIndexKey: points have no other name than their number
            key={n}
            type="button"
            aria-pressed={n === index}
            aria-label={`Point ${n + 1}`}
            className={`figure h-5 min-w-5 rounded border ${n === index ? 'border-verdigris bg-selection' : 'border-line hover:border-edge'}`}
            onClick={() => onChoose(n)}
          >
            {n + 1}
          </button>
        ))}
        {points.length === 0 && <span className="text-soft">Double click on the spectrum adds a point.</span>}
        {point && (
          <button
            type="button"
            className="ml-auto rounded px-1 text-soft hover:text-madder"
            onClick={() => {
              onPoints(
                points.filter((_, n) => n !== index),
                'points',
                true,
              );
              onChoose(Math.max(0, index - 1));
            }}
          >
            remove point
          </button>
        )}
      </p>
      {point && (
        <ParameterRows
          of={POINT}
          keys={['kind', 'frequencyHz', ...POINT_KEYS[point.kind], 'active']}
          values={point}
          onPreview={(key, value) =>
            onPoints(value === null ? points : changed({ [key]: value } as Partial<Point>), '', false)
          }
          onSet={(said, set) => onPoints(changed(set), said, true)}
        />
      )}
    </>
  );
}
