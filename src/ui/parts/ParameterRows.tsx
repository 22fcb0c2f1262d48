'use client';

import type { Parameters, Values } from '@/core/parameter/parameter';
import { ChoiceLine } from './ChoiceLine';
import { Parameter } from './Parameter';

interface ParameterRowsProps<P extends Parameters, K extends keyof P & string> {
  readonly of: P;
  /** Which of the parameters are shown, in this order. */
  readonly keys: readonly K[];
  readonly values: Values<P>;
  /** What else moves a row, in words, by its key. */
  readonly moved?: Readonly<Record<string, string>>;
  /** While one is dragged; null when the drag is given up. */
  readonly onPreview?: (key: K, value: unknown) => void;
  /** `said` is what the history calls the parameter. */
  readonly onSet: (said: string, set: Partial<Values<P>>) => void;
}

/** Rows for declared parameters. */
export function ParameterRows<P extends Parameters, K extends keyof P & string>(props: ParameterRowsProps<P, K>) {
  const { of, keys, values, moved, onPreview, onSet } = props;
  return keys.map((key) => {
    const p = of[key];
    // Lists and measured figures have an editor of their own.
    if (!p || p.kind === 'list' || p.kind === 'data') return null;
    const set = (value: unknown) => onSet(p.said, { [key]: value } as Partial<Values<P>>);
    if (p.kind === 'number')
      return (
        <Parameter
          key={key}
          of={p}
          value={values[key] as number | null}
          movedBy={moved?.[key]}
          onPreview={onPreview && ((value) => onPreview(key, value))}
          onCommit={set}
        />
      );
    return <ChoiceLine key={key} of={p} value={values[key] as string} row onChoose={set} />;
  });
}
