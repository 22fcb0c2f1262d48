interface Standing {
  readonly slices: readonly { readonly slice: { readonly id: string } }[];
}

/**
 * Shelves with keys that stay with most of their slices however they are grouped anew, so that their places on the page do: those of
 * the shelves before that most of them stood on. The largest have the first choice.
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
    // A new key is the id of a slice that stands there.
    const key = most?.[0] ?? shelf.slices.find(({ slice }) => !taken.has(slice.id))?.slice.id ?? `${index}`;
    taken.add(key);
    return { ...shelf, key };
  });
}
