import Joi from 'joi';
import { DAY_MS } from '../time/calendar';
import type { Instant } from '../time/days';

/** What makes a conversion look odd. None of it proves anything: it leads to a person's look. */
export const SIGNALS = {
  too_quick: { name: 'Too quick after the click', limit: 'seconds or fewer' },
  too_slow: { name: 'Too slow after the click', limit: 'days or more' },
  same_address: { name: 'Many orders from one address or browser', limit: 'within 24 hours' },
  is_partner: { name: 'The customer is the partner', limit: undefined },
  same_card: { name: 'One card, several customers', limit: 'customers within 30 days' },
  rate_jump: { name: 'The channel’s rate jumped', limit: 'times its usual rate' },
} as const;
export type SignalName = keyof typeof SIGNALS;
export const SIGNAL_NAMES = Object.keys(SIGNALS) as SignalName[];

/** A signal's share of the score, 0 is off, and where it begins. */
export interface SignalSetting {
  readonly weight: number;
  readonly limit: number;
}
export interface SuspicionSettings {
  readonly signals: Readonly<Record<SignalName, SignalSetting>>;
  /** The score from which on a person is asked. */
  readonly reviewFrom: number;
}
export const USUAL_SUSPICION: SuspicionSettings = {
  signals: {
    too_quick: { weight: 40, limit: 20 },
    too_slow: { weight: 10, limit: 29 },
    same_address: { weight: 50, limit: 3 },
    is_partner: { weight: 80, limit: 0 },
    same_card: { weight: 60, limit: 2 },
    rate_jump: { weight: 40, limit: 4 },
  },
  reviewFrom: 50,
};

const signal = Joi.object<SignalSetting>({
  weight: Joi.number().integer().min(0).max(100).required().label('Weight'),
  limit: Joi.number().integer().min(0).max(100_000).required().label('Limit'),
});
export const suspicionSchema: Joi.ObjectSchema<SuspicionSettings> = Joi.object<SuspicionSettings>({
  signals: Joi.object(Object.fromEntries(SIGNAL_NAMES.map((name) => [name, signal.required()]))).required(),
  reviewFrom: Joi.number().integer().min(1).max(600).required().label('Asks a person from'),
});

/** Conversions and unique clicks of a channel on an offer. */
export interface RateCounts {
  readonly conversions: number;
  readonly uniques: number;
}
/** What is known around a conversion when it is looked at. */
export interface SuspicionFacts {
  readonly time: Instant;
  readonly clickTime?: Instant;
  /** Orders from the same address or browser in the 24 hours up to it, itself included. */
  readonly fromAddress: number;
  /** Whose ID the customer's is, where it is one of the partner's own. */
  readonly partnerAs?: string;
  /** Different customers with its card in the 30 days up to it. */
  readonly customersOfCard: number;
  /** Its day so far, and the 28 days before. */
  readonly today: RateCounts;
  readonly usual: RateCounts;
}
/** A signal that was seen, with its weight and why, in words. */
export interface Seen {
  readonly signal: SignalName;
  readonly weight: number;
  readonly why: string;
}

/** Fewer conversions of a day say nothing about its rate. */
const LEAST_CONVERSIONS = 5;
/** Standard errors between a day's rate and the usual one (z-test of a proportion). */
const LEAST_ERRORS = 3;

const percent = ({ conversions, uniques }: RateCounts): string => `${((100 * conversions) / uniques).toFixed(1)} %`;

function jump({ today, usual }: SuspicionFacts, times: number): string | undefined {
  if (today.conversions < LEAST_CONVERSIONS || today.uniques === 0 || usual.uniques === 0) return undefined;
  // One conversion more than there were, so that a channel that never sold is judged as well.
  const before = Math.min(0.99, Math.max(usual.conversions, 1) / usual.uniques);
  const now = today.conversions / today.uniques;
  const errors = (now - before) / Math.sqrt((before * (1 - before)) / today.uniques);
  if (now < times * before || errors < LEAST_ERRORS) return undefined;
  return `${percent(today)} of its day’s clicks converted, ${percent(usual)} in the four weeks before`;
}

/** How long after the click, as people say it. */
const after = (ms: number): string =>
  ms < 120_000
    ? `${Math.round(ms / 1000)} seconds`
    : ms < 2 * DAY_MS
      ? `${Math.round(ms / 3_600_000)} hours`
      : `${Math.floor(ms / DAY_MS)} days`;

/** What looks odd about a conversion, each with its reason; the score is the sum of the weights. */
export function lookAt(facts: SuspicionFacts, { signals }: SuspicionSettings): Seen[] {
  const age = facts.clickTime === undefined ? undefined : facts.time - facts.clickTime;
  const { fromAddress, customersOfCard, partnerAs } = facts;
  const reasons: Record<SignalName, string | undefined> = {
    too_quick:
      age !== undefined && age >= 0 && age <= signals.too_quick.limit * 1000
        ? `It happened ${after(age)} after the click`
        : undefined,
    too_slow:
      age !== undefined && age >= signals.too_slow.limit * DAY_MS
        ? `It happened ${after(age)} after the click`
        : undefined,
    same_address:
      fromAddress >= signals.same_address.limit
        ? `It is one of ${fromAddress} from the same address or browser within 24 hours`
        : undefined,
    is_partner: partnerAs === undefined ? undefined : `The customer’s ID is the partner’s own (${partnerAs})`,
    same_card:
      customersOfCard >= signals.same_card.limit
        ? `${customersOfCard} different customers paid with its card within 30 days`
        : undefined,
    rate_jump: jump(facts, signals.rate_jump.limit),
  };
  return SIGNAL_NAMES.flatMap((name): Seen[] => {
    const [why, { weight }] = [reasons[name], signals[name]];
    return why !== undefined && weight > 0 ? [{ signal: name, weight, why }] : [];
  });
}

export const scoreOf = (seen: readonly Seen[]): number => seen.reduce((sum, { weight }) => sum + weight, 0);
