/** What is looked at: days are inclusive and in the program's zone; null means any. */
export interface ScopeFilter {
  programId: number;
  from: string;
  to: string;
  partnerId: number | null;
  channelId: number | null;
  offerId: number | null;
}

/** The conditions of a scope on a table with the usual columns; the alias is code, never input. */
export const inScope = (alias: 'x' | 'c' | 'm' | 'd'): string =>
  `${alias}.program_id = :programId AND ${alias}.day BETWEEN :from AND :to
   AND (:partnerId IS NULL OR ${alias}.partner_id = :partnerId)
   AND (:channelId IS NULL OR ${alias}.channel_id = :channelId)
   AND (:offerId IS NULL OR ${alias}.offer_id = :offerId)`;
