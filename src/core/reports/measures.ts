/** A ratio as a percentage with two decimals, "–" without a denominator. Ratios of sums, never sums of ratios. */
export const showRatio = (part: number, whole: number): string =>
  whole === 0 ? '–' : `${((100 * part) / whole).toFixed(2)}%`;

export const showCount = (count: number): string => count.toLocaleString('en-GB');
