import type { Cap, Condition, Destination, ListField, Mix, RoutingPlan, Rule } from '@/core/routing/plan';

/** What the editor must know of the offer. */
export interface PlanOffer {
  readonly id: number;
  readonly name: string;
  readonly landingPages: readonly { readonly name: string; readonly address: string }[];
}

/** IDs are never used again: reports count by them. */
export function newRule(plan: RoutingPlan, known: readonly string[], page: string): Rule {
  const numbers = [...plan.rules.map(({ id }) => id), ...known].map((id) => Number(id.slice(1)) || 0);
  return {
    ...{ id: `r${Math.max(0, ...numbers) + 1}`, name: '', on: true, overOwn: false },
    when: [{ field: 'country', is: true, values: [] }],
    mix: { to: [{ page, weight: 100, on: true }], round: 1 },
  };
}

export const replaced = <T>(all: readonly T[], at: number, by: T): T[] => all.map((each, i) => (i === at ? by : each));
export const without = <T>(all: readonly T[], at: number): T[] => all.filter((_, i) => i !== at);

/** A condition of another field, with what a beginner would fill in. */
export function conditionOf(field: Condition['field'], today: string): Condition {
  if (field === 'hours') return { field, from: '18:00', to: '23:00' };
  if (field === 'dates') return { field, from: today, to: today };
  const values: Partial<Record<ListField, string[]>> = { device: ['phone'], weekday: ['6', '7'] };
  return { field, is: true, values: values[field] ?? [] };
}

export const addPage = (mix: Mix, pages: PlanOffer['landingPages']): Mix => {
  const free = pages.find(({ name }) => !mix.to.some(({ page }) => page === name));
  const next: Destination | undefined = free && { page: free.name, weight: mix.to.length === 0 ? 100 : 50, on: true };
  return next ? { ...mix, to: [...mix.to, next] } : mix;
};

/** Weights that can be typed are whole numbers; anything else is 0 until it is one. */
export const weightOf = (text: string): number => (/^\d{1,4}$/.test(text.trim()) ? Number(text) : 0);

export const newCap = (caps: readonly Cap[]): Cap | undefined =>
  (['clicks', 'conversions', 'spend'] as const)
    .flatMap((of) =>
      (['day', 'month', 'total'] as const).map((per) => ({ of, per, most: of === 'spend' ? 100_000 : 500 })),
    )
    .find(({ of, per }) => !caps.some((cap) => cap.of === of && cap.per === per));
