/** Why a click is stored but never counted or paid. The visitor is sent on all the same. */
export const SET_ASIDE_REASONS = ['bot', 'prefetch', 'head', 'flood', 'listed', 'paused'] as const;
export type SetAsideReason = (typeof SET_ASIDE_REASONS)[number];

export const SET_ASIDE_WORDS: Record<SetAsideReason, string> = {
  bot: 'The user agent names itself a bot or crawler.',
  prefetch: 'The browser fetched the page ahead of a click.',
  head: 'A HEAD request: a link checker, not a visitor.',
  flood: 'Too many clicks a minute from one address on one link.',
  listed: 'The address is on a list of addresses to set aside.',
  paused: 'Link, partner or offer was not live.',
};

export interface Signs {
  readonly method: string;
  /** Values of Sec-Purpose, Purpose and X-Moz, as far as sent. */
  readonly purpose: string;
  readonly bot: boolean;
  /** The address is on a list. */
  readonly listed: boolean;
  /** The address pressed this link too often within the minute. */
  readonly flood: boolean;
  readonly live: boolean;
}

/** The first reason that applies at the time of the request. */
export function setAsideReason(signs: Signs): SetAsideReason | undefined {
  if (signs.method === 'HEAD') return 'head';
  if (signs.purpose !== '' && /prefetch|preview|prerender/i.test(signs.purpose)) return 'prefetch';
  if (signs.bot) return 'bot';
  if (signs.listed) return 'listed';
  if (signs.flood) return 'flood';
  return signs.live ? undefined : 'paused';
}
