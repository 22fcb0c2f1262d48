import type {
  ChoiceParameter,
  FlatParameter,
  NumberParameter,
  Parameter,
  Parameters,
  SwitchParameter,
  Values,
} from './parameter';

/** The initial value of every parameter. */
export function initialValues<P extends Parameters>(parameters: P): Values<P> {
  return Object.fromEntries(Object.entries(parameters).map(([key, { initial }]) => [key, initial])) as Values<P>;
}

/** Stored values completed with initial values, also in lists; names that are no parameters are dropped. */
export function filled<P extends Parameters>(parameters: P, stored: Readonly<Record<string, unknown>>): Values<P> {
  return Object.fromEntries(
    Object.entries(parameters).map(([key, p]) => [key, stored[key] === undefined ? p.initial : whole(p, stored[key])]),
  ) as Values<P>;
}

function whole(p: Parameter, value: unknown): unknown {
  return p.kind === 'list' ? (value as Record<string, unknown>[]).map((item) => filled(p.item, item)) : value;
}

/** The values to store: those that differ from the initial ones. */
export function sparse<P extends Parameters>(
  parameters: P,
  values: Readonly<Record<string, unknown>>,
): Partial<Values<P>> {
  return Object.fromEntries(
    Object.entries(parameters).flatMap(([key, { initial }]) =>
      values[key] === undefined || isSame(values[key], initial) ? [] : [[key, values[key]]],
    ),
  ) as Partial<Values<P>>;
}

/** Whether two values of a parameter are equal; lists are equal entry by entry. */
function isSame(a: unknown, b: unknown): boolean {
  return a === b || (Array.isArray(a) && Array.isArray(b) && JSON.stringify(a) === JSON.stringify(b));
}

/** The values of a choice or a switch, with their names. */
export function optionsOf(
  p: ChoiceParameter | SwitchParameter,
): readonly (readonly [string | number | boolean, string])[] {
  if (p.kind === 'choice') return p.options;
  return p.states.map((state, i) => [i === 1, state] as const);
}

/** A first value that differs from the initial one, where there are few. */
export function firstSet(p: FlatParameter): unknown {
  if (p.kind === 'number') return p.none?.first ?? p.initial;
  return optionsOf(p).find(([value]) => value !== p.initial)?.[0];
}

/** The limits of a number as they are stored, with its unit: "-60 and 24 dB". */
export function rangeText({ low, high, unit, times }: NumberParameter<never> | NumberParameter<null>): string {
  return `${low} and ${high}${unit && times === 1 ? ` ${unit}` : ''}`;
}

/** The unit shown after a value. */
export function unitOf({ unit, sides }: Pick<NumberParameter, 'unit' | 'sides'>, value: number): string {
  return sides ? (sides[Math.sign(value) + 1] ?? unit) : unit;
}

/** Whether a number is allowed. */
export function inRange({ low, high }: Pick<NumberParameter, 'low' | 'high'>, value: number): boolean {
  return value >= low && value <= high;
}

/** A number clipped to its range and rounded to a grain, all in stored units. */
export function clip(
  { low, high, whole }: Pick<NumberParameter, 'low' | 'high' | 'whole'>,
  value: number,
  grain = 0,
): number {
  const on = whole ? Math.max(1, grain) : grain;
  const rounded = on > 0 ? Math.round(value / on) * on : value;
  return Math.min(high, Math.max(low, Number(rounded.toFixed(6))));
}

/** Position of a value on its bar, 0 to 1. */
export function shareOf(p: NumberParameter<never> | NumberParameter<null>, value: number): number {
  const [low, high] = [curved(p, p.low), curved(p, p.high)];
  return (curved(p, value) - low) / (high - low);
}

/** The value at a position of the bar, 0 to 1. */
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

/** Typed text as a stored value, clipped to the range; null where it is no number. */
export function typedValue(p: NumberParameter<never> | NumberParameter<null>, text: string): number | null {
  const plain = text
    .replace('−', '-')
    .replace(',', '.')
    .replace(/[^0-9.eE+-]/g, '');
  const value = Number(plain);
  if (plain === '' || !Number.isFinite(value)) return null;
  return clip(p, value / p.times, 10 ** -p.digits / p.times);
}
