/** Which of two comes first: below zero for the first one. */
export type Comparing = (a: number, b: number) => number;

/** The first of so many places in an order, in that order. Most places are compared once. */
export function firstPlaces(count: number, most: number, compare: Comparing): number[] {
  const first: number[] = [];
  for (let place = 0; place < count; place++) {
    const full = first.length >= most;
    if (full && compare(place, first[most - 1] as number) >= 0) continue;
    if (first.length > 2000)
      return Array.from({ length: count }, (_, each) => each)
        .sort(compare)
        .slice(0, most);
    let [low, high] = [0, first.length];
    while (low < high) {
      const middle = (low + high) >>> 1;
      if (compare(first[middle] as number, place) <= 0) low = middle + 1;
      else high = middle;
    }
    first.splice(low, 0, place);
    if (full) first.pop();
  }
  return first;
}

/** Compares the names of two groups as `byNames` does. */
export function compareNames(left: readonly string[], right: readonly string[]): number {
  const at = left.findIndex((text, i) => text !== right[i]);
  return at < 0 ? 0 : (left[at] ?? '') < (right[at] ?? '') ? -1 : 1;
}

/**
 * Compares things by their names: by the first of these texts, then by the next.
 * @param texts of each dimension; no text twice
 * @param numbers of each dimension, the text of each thing
 */
export function byNames(texts: readonly (readonly string[])[], numbers: readonly Uint32Array[]): Comparing {
  return (a, b) => {
    for (let i = 0; i < texts.length; i++) {
      const [own, of] = [texts[i] as readonly string[], numbers[i] as Uint32Array];
      const [left, right] = [of[a] as number, of[b] as number];
      if (left !== right) return (own[left] as string) < (own[right] as string) ? -1 : 1;
    }
    return 0;
  };
}
