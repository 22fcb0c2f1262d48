interface Standing {
  readonly slices: readonly { readonly slice: { readonly id: string } }[];
}

/**
 * Keys of shelves that survive regrouping: a shelf takes the key of the earlier one that most of its slices were on,
 * the largest first.
 */
export function withKeys<S extends Standing>(
  shelves: readonly S[],
  before: readonly (Standing & { readonly key: string })[],
): (S & { readonly key: string })[] {
  const keyOf = new Map(before.flatMap(({ key, slices }) => slices.map(({ slice }) => [slice.id, key] as const)));
  const taken = new Set<string>();
  return shelves.map((shelf, index) => {
    const counts = new Map<string, number>();
    for (const { slice } of shelf.slices) {
      const key = keyOf.get(slice.id);
      if (key !== undefined && !taken.has(key)) counts.set(key, (counts.get(key) ?? 0) + 1);
    }
    const most = [...counts].sort((a, b) => b[1] - a[1])[0];
    // A new key is the id of one of its slices.
    const key = most?.[0] ?? shelf.slices.find(({ slice }) => !taken.has(slice.id))?.slice.id ?? `${index}`;
    taken.add(key);
    return { ...shelf, key };
  });
}
