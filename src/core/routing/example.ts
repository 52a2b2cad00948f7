import type { LandingPage } from '../offers/schema';
import type { Day } from '../time/calendar';
import { type Visitor, firstFailed } from './conditions';
import { type Condition, DEFAULT_RULE, type Destination, type RoutingPlan } from './plan';

/** A visitor made up to try a plan on. */
export interface ExampleVisitor {
  readonly country: string;
  readonly device: string;
  readonly os: string;
  readonly language: string;
  /** "2026-11-25" and "22:00" on the program's clock. */
  readonly day: string;
  readonly time: string;
  readonly partnerId?: number;
  readonly channelId?: number;
  readonly sourceId?: number;
}
/** What becomes of an example visitor, rule by rule. */
export interface Tried {
  /** Rules looked at, with the condition that failed; the last may have taken the visitor. */
  readonly looked: readonly { readonly rule: string; readonly failed?: Condition; readonly off?: boolean }[];
  /** ID of the rule that takes the visitor, 'default' for everybody else. */
  readonly rule: string;
  /** Pages the visitor may see, with the share of such visitors who see each, in percent. */
  readonly pages: readonly { readonly page: string; readonly share: number }[];
}

/** Tries a plan on one visitor, rule by rule; decided by the conditions the edge goes by. */
export function tryPlan(landingPages: readonly LandingPage[], plan: RoutingPlan, example: ExampleVisitor): Tried {
  const [hour = 0, minute = 0] = example.time.split(':').map(Number);
  const day = example.day as Day;
  const weekday = new Date(`${day}T12:00:00Z`).getUTCDay() || 7;
  const clock = () => ({ day, weekday, minute: hour * 60 + minute });
  const visitor: Visitor = {
    bucket: 0,
    country: () => example.country,
    device: () => example.device,
    os: () => example.os,
    language: () => example.language,
  };
  const idText = (id: number | undefined): string => (id === undefined ? '' : String(id));
  const link = {
    partner: idText(example.partnerId),
    channel: idText(example.channelId),
    source: idText(example.sourceId),
  };
  const names = new Set(landingPages.map(({ name }) => name));
  const sharesOf = (to: readonly Destination[]) => {
    const live = to.filter(({ page, on, weight }) => on && weight > 0 && names.has(page));
    const sum = live.reduce((all, { weight }) => all + weight, 0);
    return live.map(({ page, weight }) => ({ page, share: (100 * weight) / sum }));
  };
  const looked: { rule: string; failed?: Condition; off?: boolean }[] = [];
  for (const rule of plan.rules) {
    const pages = sharesOf(rule.mix.to);
    const off = !rule.on || pages.length === 0;
    const failed = off ? undefined : firstFailed(rule, link, visitor, clock);
    looked.push({ rule: rule.id, ...(failed && { failed }), ...(off && { off }) });
    if (!off && !failed) return { looked, rule: rule.id, pages };
  }
  const pages = sharesOf(plan.otherwise.to);
  const first = landingPages[0]?.name ?? '';
  return { looked, rule: DEFAULT_RULE, pages: pages.length > 0 ? pages : [{ page: first, share: 100 }] };
}
