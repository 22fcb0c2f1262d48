import type { ChoiceParameter, NumberParameter, Parameter, Parameters, SwitchParameter, Values } from './parameter';

/** The value of every parameter that nobody has touched. */
export function initialValues<P extends Parameters>(parameters: P): Values<P> {
  return Object.fromEntries(Object.entries(parameters).map(([key, { initial }]) => [key, initial])) as Values<P>;
}

/** Stored values with the initial value wherever none is stored; names that are no parameters are left out. */
export function filled<P extends Parameters>(parameters: P, stored: Readonly<Record<string, unknown>>): Values<P> {
  return Object.fromEntries(
    Object.entries(parameters).map(([key, { initial }]) => [key, stored[key] === undefined ? initial : stored[key]]),
  ) as Values<P>;
}

/** What is stored of values: those that differ from the initial ones. */
export function sparse<P extends Parameters>(
  parameters: P,
  values: Readonly<Record<string, unknown>>,
): Partial<Values<P>> {
  return Object.fromEntries(
    Object.entries(parameters).flatMap(([key, { initial }]) =>
      values[key] === undefined || values[key] === initial ? [] : [[key, values[key]]],
    ),
  ) as Partial<Values<P>>;
}

/** What a choice or a switch may be, with the words for it. */
export function optionsOf(
  p: ChoiceParameter | SwitchParameter,
): readonly (readonly [string | number | boolean, string])[] {
  if (p.kind === 'choice') return p.options;
  return p.states.map((state, i) => [i === 1, state] as const);
}

/** The value that a parameter gets when it is first set on purpose: one that differs from the initial value where it has few. */
export function firstSet(p: Parameter): unknown {
  if (p.kind === 'number') return p.none?.first ?? p.initial;
  return optionsOf(p).find(([value]) => value !== p.initial)?.[0];
}

/** The limits of a number as they are stored, with its unit: "-60 and 24 dB". */
export function rangeText({ low, high, unit, times }: NumberParameter<never> | NumberParameter<null>): string {
  return `${low} and ${high}${unit && times === 1 ? ` ${unit}` : ''}`;
}

/** The unit that stands behind a value. */
export function unitOf({ unit, sides }: Pick<NumberParameter, 'unit' | 'sides'>, value: number): string {
  return sides ? (sides[Math.sign(value) + 1] ?? unit) : unit;
}

/** Whether a number may be stored. */
export function inRange({ low, high }: Pick<NumberParameter, 'low' | 'high'>, value: number): boolean {
  return value >= low && value <= high;
}

/** A number in its range, on its grain where one is given; both as they are stored. */
export function clip(
  { low, high, whole }: Pick<NumberParameter, 'low' | 'high' | 'whole'>,
  value: number,
  grain = 0,
): number {
  const on = whole ? Math.max(1, grain) : grain;
  const rounded = on > 0 ? Math.round(value / on) * on : value;
  return Math.min(high, Math.max(low, Number(rounded.toFixed(6))));
}

/** Where a value lies on its bar, 0 to 1. */
export function shareOf(p: NumberParameter<never> | NumberParameter<null>, value: number): number {
  const [low, high] = [curved(p, p.low), curved(p, p.high)];
  return (curved(p, value) - low) / (high - low);
}

/** The value at a place of the bar, 0 to 1. */
export function valueAt(p: NumberParameter<never> | NumberParameter<null>, share: number): number {
  const [low, high] = [curved(p, p.low), curved(p, p.high)];
  const at = low + share * (high - low);
  if (p.scale === 'linear') return at;
  return p.low > 0 ? Math.exp(at) : p.step * Math.sinh(at);
}

function curved({ scale, low, step }: NumberParameter<never> | NumberParameter<null>, value: number): number {
  if (scale === 'linear') return value;
  return low > 0 ? Math.log(value) : Math.asinh(value / step);
}

/** Text that a person has typed as the value to store, in range; null where it is no number. */
export function typedValue(p: NumberParameter<never> | NumberParameter<null>, text: string): number | null {
  const plain = text
    .replace('−', '-')
    .replace(',', '.')
    .replace(/[^0-9.eE+-]/g, '');
  const value = Number(plain);
  if (plain === '' || !Number.isFinite(value)) return null;
  return clip(p, value / p.times, 10 ** -p.digits / p.times);
}
