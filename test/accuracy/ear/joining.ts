import { logistic } from '../../../src/core/describe/network';
import { type Joined, logOdds, surenessOf, sureTogether } from '../../../src/core/describe/sureness';
import { Parameters } from '../learning';
import { type Chanced, isotonic } from './isotonic';

/** A guess of a slice among others. */
export interface Among extends Chanced {
  /** How likely it was told that a drum is struck. */
  readonly drum: number;
}

const STEPS = 3000;
const RATE = 0.01;

/** How sure slices are to be told of which a family and a drum have these chances: by the family's alone where drums are heard alone, then joined with the drum's. */
export interface Trust {
  readonly knots: ReturnType<typeof isotonic>;
  readonly joined: Joined;
}

/** Learns it: the curve from what is heard without music, how it is joined from all, by logistic regression. */
export function trustIn(withoutMusic: readonly Among[], songs: readonly Among[]): Trust {
  const knots = isotonic(withoutMusic);
  const parameters = new Parameters(Float64Array.of(1, 0.5, 0), 0);
  const { values, gradient } = parameters;
  const all = [...withoutMusic, ...songs].map(({ chance, drum, right, weight }) => ({
    shown: [logOdds(surenessOf(chance, knots)), logOdds(drum), 1],
    right: Number(right),
    weight,
  }));
  const sum = all.reduce((total, { weight }) => total + weight, 0);
  for (let t = 1; t <= STEPS; t++) {
    for (const { shown, right, weight } of all) {
      const odds = shown.reduce((total, x, i) => total + x * (values[i] as number), 0);
      const off = ((logistic(odds) - right) * weight) / sum;
      for (const [i, x] of shown.entries()) gradient[i] = (gradient[i] as number) + off * x;
    }
    parameters.step(RATE, t);
  }
  const [family, drum, offset] = values as unknown as [number, number, number];
  return { knots, joined: { family, drum, offset } };
}

export function toldBy({ knots, joined }: Trust, { chance, drum }: Among): number {
  return sureTogether(surenessOf(chance, knots), drum, joined);
}
