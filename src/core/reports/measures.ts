/** A ratio as a percentage with two decimals, "–" without a denominator. Ratios of sums, never sums of ratios. */
export const showRatio = (part: number, whole: number): string =>
  whole === 0 ? '–' : `${((100 * part) / whole).toFixed(2)}%`;

export const showCount = (count: number): string => count.toLocaleString('en-GB');

/**
 * 95 % interval of a proportion (Wilson, 1927).
 * @returns [0, 1] where nothing was seen
 */
export function wilson(part: number, whole: number): [low: number, high: number] {
  if (whole <= 0) return [0, 1];
  const z = 1.959963984540054;
  const p = Math.min(1, part / whole);
  const centre = (p + z ** 2 / (2 * whole)) / (1 + z ** 2 / whole);
  const half = (z / (1 + z ** 2 / whole)) * Math.sqrt((p * (1 - p)) / whole + z ** 2 / (4 * whole ** 2));
  return [Math.max(0, centre - half), Math.min(1, centre + half)];
}
