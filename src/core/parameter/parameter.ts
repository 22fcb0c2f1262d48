/** A number set by a person. Limits, steps and the initial value are in stored units: `unit` divided by `times`. */
export interface NumberParameter<N extends null = never> {
  readonly kind: 'number';
  readonly label: string;
  readonly unit: string;
  readonly low: number;
  readonly high: number;
  /** Step of a drag and of the arrow keys. */
  readonly step: number;
  /** The same with Shift held. */
  readonly fine: number;
  /** Decimals shown. */
  readonly digits: number;
  readonly initial: number | N;
  /** How the range maps to the bar. A logarithmic range that includes zero is linear within one step of it. */
  readonly scale: 'linear' | 'log';
  /** The bar grows from zero, to either side. */
  readonly bipolar: boolean;
  /** The value with which it does nothing, whatever the others are; null where there is none. */
  readonly neutral: number | null;
  readonly whole: boolean;
  /** The displayed value is the stored one times this: 100 for shares shown as per cent. */
  readonly times: number;
  /** Units of negative values, zero and positive ones, where they read better than signs. */
  readonly sides: readonly [under: string, zero: string, over: string] | null;
  /** Where null is allowed: its name, and the value when the parameter is switched on. */
  readonly none: [N] extends [never] ? null : { readonly label: string; readonly first: number };
  /** Its name in the history: "changed the level of Kick". */
  readonly said: string;
}

/** One of several values with labels, in the order offered. */
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
  /** Names of off and on. */
  readonly states: readonly [off: string, on: string];
  readonly initial: boolean;
  readonly said: string;
}

/** Any number of groups of values, each of the same parameters: the points of an equaliser. */
export interface ListParameter<P extends FlatParameters = FlatParameters> {
  readonly kind: 'list';
  readonly label: string;
  readonly item: P;
  readonly most: number;
  readonly initial: readonly Values<P>[];
  readonly said: string;
}

/** Packed figures that are measured and not typed: base64, empty where nothing has been measured. */
export interface DataParameter {
  readonly kind: 'data';
  readonly label: string;
  /** Most characters. */
  readonly most: number;
  readonly initial: string;
  readonly said: string;
}

/** Parameters with a row of their own. */
export type FlatParameter = NumberParameter<never> | NumberParameter<null> | ChoiceParameter | SwitchParameter;
export type FlatParameters = Readonly<Record<string, FlatParameter>>;
export type Parameter = FlatParameter | ListParameter | DataParameter;
/** Parameters by the name under which each is stored. */
export type Parameters = Readonly<Record<string, Parameter>>;

export type ValueOf<P extends Parameter> =
  P extends ChoiceParameter<infer V>
    ? V
    : P extends SwitchParameter
      ? boolean
      : P extends NumberParameter<infer N>
        ? number | N
        : P extends ListParameter<infer I>
          ? readonly Values<I>[]
          : P extends DataParameter
            ? string
            : never;
/** A value for every parameter. */
export type Values<P extends Parameters> = { readonly [K in keyof P]: ValueOf<P[K]> };

type NumberOptions = Partial<
  Pick<NumberParameter, 'fine' | 'digits' | 'scale' | 'bipolar' | 'neutral' | 'whole' | 'times' | 'sides' | 'said'>
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
    neutral: null,
    times: 1,
    sides: null,
    said: said(options.label),
    ...options,
    whole,
    none,
  };
}

/** Declares a number. By default it is linear, shown with one decimal, and the fine step is a tenth of the step. */
export function number(options: NumberOptions & { initial: number }): NumberParameter {
  return numberOf<never>(options, null);
}

/** Declares a number that may be absent; `none` has the name of that, and the value when it is switched on. */
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

export function list<const P extends FlatParameters>(
  label: string,
  item: P,
  most: number,
  initial: readonly Values<P>[] = [],
): ListParameter<P> {
  return { kind: 'list', label, item, most, initial, said: said(label) };
}

export function data(label: string, most: number): DataParameter {
  return { kind: 'data', label, most, initial: '', said: said(label) };
}

/** A label inside a sentence: abbreviations stay as they are. */
function said(label: string): string {
  return /^[A-Z]{2}/.test(label) ? label : label.charAt(0).toLowerCase() + label.slice(1);
}
