import type { Parameter, Parameters } from './parameter';

type Prefixed<N extends string, P extends Parameters> = {
  readonly [K in keyof P & string as `${N}${Capitalize<K>}`]: P[K];
};

/**
 * The same parameters under names of their own: `attackMs` of `level` is `levelAttackMs`. `said` is put before what the
 * history calls each.
 */
export function prefixed<N extends string, P extends Parameters>(name: N, said: string, parameters: P): Prefixed<N, P> {
  const of = (p: Parameter) => ({ ...p, said: `${p.said} of ${said}` });
  return Object.fromEntries(
    Object.entries(parameters).map(([key, p]) => [prefixedKey(name, key), of(p)]),
  ) as unknown as Prefixed<N, P>;
}

export function prefixedKey<N extends string, K extends string>(name: N, key: K): `${N}${Capitalize<K>}` {
  return `${name}${key.charAt(0).toUpperCase()}${key.slice(1)}` as `${N}${Capitalize<K>}`;
}
