import { CALL_OPERATIONS } from './calls';
import { CLICK_OPERATIONS } from './clicks';
import { CONVERSION_OPERATIONS } from './conversions';
import { LINK_OPERATIONS } from './links';
import { MONEY_OPERATIONS } from './money';
import type { Operation } from './operation';
import { PARTNER_OPERATIONS } from './partners';
import { PROGRAM_OPERATIONS } from './programs';
import { REVIEW_OPERATIONS } from './reviews';

export type { Operation } from './operation';

/** Everything the API does, with the screens' own use cases, checks and rights. */
export const OPERATIONS: readonly Operation[] = [
  ...PROGRAM_OPERATIONS,
  ...PARTNER_OPERATIONS,
  ...LINK_OPERATIONS,
  ...CLICK_OPERATIONS,
  ...CONVERSION_OPERATIONS,
  ...CALL_OPERATIONS,
  ...REVIEW_OPERATIONS,
  ...MONEY_OPERATIONS,
];
