import { type Command, CommanderError, Option } from 'commander';
import type { FlatParameter, FlatParameters, Values } from '@/core/parameter/parameter';

/** A parameter on the command line: its flag, and help text besides its range. */
export interface Flag {
  readonly flag: string;
  readonly help: string;
  /** Values that have another name on the command line. */
  readonly named?: Readonly<Record<string, string>>;
}

export type Flags<P extends FlatParameters> = Readonly<Record<keyof P & string, Flag>>;

/** Adds one option a parameter, with its declared limits, choices and initial value. */
export function addFlags<P extends FlatParameters>(command: Command, parameters: P, flags: Partial<Flags<P>>): Command {
  for (const [key, told] of Object.entries(flags) as [string, Flag][])
    command.addOption(optionOf(parameters[key] as FlatParameter, told));
  return command;
}

/** The values that were given; others are left out. */
export function toldValues<P extends FlatParameters>(
  parameters: P,
  flags: Partial<Flags<P>>,
  options: Readonly<Record<string, unknown>>,
): Partial<Values<P>> {
  const told = Object.entries(flags as Record<string, Flag>).flatMap(([key, { flag, named = {} }]) => {
    const value = options[camelCased(flag)];
    if (value === undefined) return [];
    const p = parameters[key] as FlatParameter;
    if (p.kind !== 'choice') return [[key, value]];
    const found = p.options.find(([v]) => (named[String(v)] ?? String(v)) === value);
    return found ? [[key, found[0]]] : [];
  });
  return Object.fromEntries(told) as Partial<Values<P>>;
}

function optionOf(p: FlatParameter, { flag, help, named = {} }: Flag): Option {
  if (p.kind === 'switch') return new Option(`--${flag}`, help);
  if (p.kind === 'choice')
    return new Option(`--${flag} <value>`, `${help} (by default ${named[String(p.initial)] ?? p.initial})`).choices(
      p.options.map(([v]) => named[String(v)] ?? String(v)),
    );
  const unit = p.times === 1 && p.unit ? p.unit : `${p.low}..${p.high}`;
  const initial = p.initial === null ? p.none?.label : p.initial;
  return new Option(`--${flag} <${unit}>`, `${help} (by default ${initial})`).argParser(between(p.label, p));
}

/** Parses a number within a range; anything else is wrong use. */
export function between(
  label: string,
  { low, high, unit = '', whole = false }: { low: number; high: number; unit?: string; whole?: boolean },
) {
  return (text: string): number => {
    const value = Number(text);
    const right = text.trim() !== '' && value >= low && value <= high && (!whole || Number.isInteger(value));
    if (!right)
      throw new CommanderError(
        2,
        'undercroft.range',
        `error: ${label} lies between ${low} and ${high}${unit && unit !== '%' ? ` ${unit}` : ''}${whole ? ', a whole number' : ''}; it was ${text}.`,
      );
    return value;
  };
}

function camelCased(flag: string): string {
  return flag.replace(/-([a-z])/g, (_, letter: string) => letter.toUpperCase());
}
