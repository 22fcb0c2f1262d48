import { z } from 'zod';
import type { Parameter, Parameters, ValueOf } from './parameter';
import { rangeText } from './values';

type Shape<P extends Parameters> = { [K in keyof P]: z.ZodType<ValueOf<P[K]>> };

/** Schemas of parameter values. Without defaults: Zod would fill them in for missing values. */
export function shapeOf<P extends Parameters>(parameters: P): Shape<P> {
  return Object.fromEntries(Object.entries(parameters).map(([key, p]) => [key, schemaOf(p)])) as Shape<P>;
}

/** Label, unit and initial value become annotations, which document a JSON Schema. */
function schemaOf(p: Parameter): z.ZodType {
  const unit = p.kind === 'number' && p.unit !== '' ? { unit: p.unit, shownTimes: p.times } : {};
  return checksOf(p).meta({ title: p.label, default: p.initial, ...unit });
}

function checksOf(p: Parameter): z.ZodType {
  switch (p.kind) {
    case 'switch':
      return z.boolean({ error: `${p.label} is true or false.` });
    case 'choice': {
      const names = p.options.map(([value]) => value);
      return z.literal(names, { error: `${p.label} is one of ${names.join(', ')}.` });
    }
    case 'data':
      return z
        .base64({ error: `${p.label} is base64.` })
        .max(p.most, { error: `${p.label} has up to ${p.most} characters.` });
    case 'list': {
      const error = `${p.label} has up to ${p.most} entries.`;
      return z.array(z.object(shapeOf(p.item)).partial(), { error }).max(p.most, { error });
    }
    case 'number': {
      const error = `${p.label} lies between ${rangeText(p)}.`;
      const plain = z.number({ error }).min(p.low, { error }).max(p.high, { error });
      const whole = p.whole ? plain.int({ error: `${p.label} is a whole number.` }) : plain;
      return p.none ? whole.nullable() : whole;
    }
  }
}
