/** A number that a person sets. Limits, steps and the initial value are those that are stored, in `unit` divided by `times`. */
export interface NumberParameter<N extends null = never> {
  readonly kind: 'number';
  readonly label: string;
  readonly unit: string;
  readonly low: number;
  readonly high: number;
  /** What a drag and the arrow keys move by. */
  readonly step: number;
  /** The same with Shift held. */
  readonly fine: number;
  /** Decimals that are shown. */
  readonly digits: number;
  readonly initial: number | N;
  /** How the range lies on the bar. A logarithmic range that holds zero is linear within one step of it. */
  readonly scale: 'linear' | 'log';
  /** The bar grows from zero, to either side. */
  readonly bipolar: boolean;
  readonly whole: boolean;
  /** What is shown is the stored value times this: 100 for shares that read as per cent. */
  readonly times: number;
  /** Units of values under zero, of zero and of those over it, where they read better than signs. */
  readonly sides: readonly [under: string, zero: string, over: string] | null;
  /** Where null may be stored: what it is called, and the value the parameter gets when it is switched on. */
  readonly none: [N] extends [never] ? null : { readonly label: string; readonly first: number };
  /** What the history calls it: "changed the level of Kick". */
  readonly said: string;
}

/** One of several values, each with its label, in the order in which they are offered. */
export interface ChoiceParameter<V extends string | number = string | number> {
  readonly kind: 'choice';
  readonly label: string;
  readonly options: readonly (readonly [value: V, label: string])[];
  readonly initial: V;
  readonly said: string;
}

/** On or off. */
export interface SwitchParameter {
  readonly kind: 'switch';
  readonly label: string;
  /** What off and on are called. */
  readonly states: readonly [off: string, on: string];
  readonly initial: boolean;
  readonly said: string;
}

export type Parameter = NumberParameter<never> | NumberParameter<null> | ChoiceParameter | SwitchParameter;
/** Parameters by the name under which each is stored. */
export type Parameters = Readonly<Record<string, Parameter>>;

export type ValueOf<P extends Parameter> =
  P extends ChoiceParameter<infer V>
    ? V
    : P extends SwitchParameter
      ? boolean
      : P extends NumberParameter<infer N>
        ? number | N
        : never;
/** A value for every parameter. */
export type Values<P extends Parameters> = { readonly [K in keyof P]: ValueOf<P[K]> };

type NumberOptions = Partial<
  Pick<NumberParameter, 'fine' | 'digits' | 'scale' | 'bipolar' | 'whole' | 'times' | 'sides' | 'said'>
> &
  Pick<NumberParameter, 'label' | 'unit' | 'low' | 'high' | 'step'>;

function numberOf<N extends null>(
  options: NumberOptions & { initial: number | N },
  none: NumberParameter<N>['none'],
): NumberParameter<N> {
  const whole = options.whole ?? false;
  return {
    kind: 'number',
    fine: whole ? options.step : options.step / 10,
    digits: whole ? 0 : 1,
    scale: 'linear',
    bipolar: false,
    times: 1,
    sides: null,
    said: said(options.label),
    ...options,
    whole,
    none,
  };
}

/** Declares a number. By default it is linear, shown with one decimal, and a tenth of its step is the fine step. */
export function number(options: NumberOptions & { initial: number }): NumberParameter {
  return numberOf<never>(options, null);
}

/** Declares a number that may be absent; `none` tells what that is called and what it becomes when it is switched on. */
export function optional(
  options: NumberOptions & { initial?: number | null; none: { label: string; first: number } },
): NumberParameter<null> {
  const { none, initial = null, ...rest } = options;
  return numberOf<null>({ ...rest, initial }, none);
}

export function choice<const V extends string | number>(
  label: string,
  options: readonly (readonly [V, string])[],
  initial: NoInfer<V>,
  name = said(label),
): ChoiceParameter<V> {
  return { kind: 'choice', label, options, initial, said: name };
}

export function toggle(
  label: string,
  states: SwitchParameter['states'],
  initial: boolean,
  name = said(label),
): SwitchParameter {
  return { kind: 'switch', label, states, initial, said: name };
}

/** A label inside a sentence: abbreviations stay as they are. */
function said(label: string): string {
  return /^[A-Z]{2}/.test(label) ? label : label.charAt(0).toLowerCase() + label.slice(1);
}
