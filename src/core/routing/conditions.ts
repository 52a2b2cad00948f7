import type { WallClock } from '../time/zones';
import { type Condition, LINK_FIELDS, type LinkField, type Rule } from './plan';

/** What rules may ask of a visitor. Answers are worked out only when they are asked for. */
export interface Visitor {
  /** 32 bits that stay with the visitor: decides which of several pages is shown. */
  readonly bucket: number;
  /** ISO 3166-1, empty when unknown. */
  country(): string;
  device(): string;
  os(): string;
  /** ISO 639, empty when unknown. */
  language(): string;
}
/** What a link stands for, as texts. */
export type LinkFacts = Readonly<Record<LinkField, string>>;

export const isLinkField = (field: Condition['field']): field is LinkField =>
  (LINK_FIELDS as readonly string[]).includes(field);

const minutes = (clock: string): number => Number(clock.slice(0, 2)) * 60 + Number(clock.slice(3));

/** From the first minute to before the last; where the last is not later, over midnight. */
export function withinHours(minute: number, from: string, to: string): boolean {
  const [first, last] = [minutes(from), minutes(to)];
  return first < last ? minute >= first && minute < last : minute >= first || minute < last;
}

/** Whether a condition holds for a visitor at a wall-clock time. */
export function holds(condition: Condition, link: LinkFacts, visitor: Visitor, clock: () => WallClock): boolean {
  if (condition.field === 'hours') return withinHours(clock().minute, condition.from, condition.to);
  if (condition.field === 'dates') return clock().day >= condition.from && clock().day <= condition.to;
  const { field, is, values } = condition;
  const value = isLinkField(field) ? link[field] : field === 'weekday' ? String(clock().weekday) : visitor[field]();
  return values.includes(value) === is;
}

/** The first condition of a rule that fails; undefined when the rule takes the visitor. */
export const firstFailed = (
  rule: Pick<Rule, 'when'>,
  link: LinkFacts,
  visitor: Visitor,
  clock: () => WallClock,
): Condition | undefined => rule.when.find((condition) => !holds(condition, link, visitor, clock));
