import { type CouponFields, couponDatesSchema, couponSchema } from '@/core/attribution/coupon';
import { check } from '@/core/schema/problems';
import type { CouponListRow, CouponRow } from '@/store/books/coupons';
import type { Page, Paging } from '@/store/database';
import { type Actor, audit, requireOwn, requireRight } from './actor';
import { readChannel } from './channels';
import { matchAgain } from './matching';
import { readOffer } from './offers';
import { readPartner } from './partners';
import { changes, checked } from './programs';
import { invalidField } from './refusal';
import type { Stores } from './stores';

export const listCoupons = (
  stores: Stores,
  actor: Actor,
  { partnerId = null, text = '', ...paging }: { partnerId?: number | null; text?: string } & Paging,
): Page<CouponListRow> =>
  stores.books.coupons.list({ programId: actor.programId, partnerId: actor.partnerId ?? partnerId, text }, paging);

export const readCoupon = (stores: Stores, actor: Actor, id: number): CouponRow =>
  requireOwn(stores, actor, stores.books.coupons.byId(id), `coupon ${id}`);

/** Conversions that waited for this code find their partner in the same transaction. */
const matchWaiting = (stores: Stores, { programId, code }: CouponRow): number =>
  matchAgain(stores, programId, { reason: 'unknown_coupon', coupon: code }, `coupon ${code}`);

/** Gives a code to a partner's channel. @returns the coupon, and how many conversions were waiting for it */
export function createCoupon(stores: Stores, actor: Actor, input: unknown): { coupon: CouponRow; matched: number } {
  requireRight(stores, actor, 'manage_partners', 'coupon');
  const fields: CouponFields = checked(check(couponSchema, input));
  const partner = readPartner(stores, actor, fields.partnerId);
  const channel = readChannel(stores, actor, fields.channelId);
  readOffer(stores, actor, fields.offerId);
  if (channel.partnerId !== partner.id)
    throw invalidField('channelId', `${channel.name} is not a channel of ${partner.name}.`);
  const standing = stores.books.coupons.byCode(actor.programId, fields.code);
  if (standing)
    throw invalidField(
      'code',
      `${standing.code} is a coupon of ${readPartner(stores, actor, standing.partnerId).name} already. A code stands for one partner.`,
    );
  return stores.books.inTransaction(() => {
    const now = stores.now();
    const id = stores.books.coupons.insert({
      ...{ ...fields, programId: actor.programId, createdBy: actor.name, createdAt: now },
    });
    audit(stores, actor, 'added', `coupon ${id}`, `${fields.code} for ${partner.name}, ${channel.name}`);
    const coupon = readCoupon(stores, actor, id);
    return { coupon, matched: matchWaiting(stores, coupon) };
  });
}

/** Changes the days of a coupon; for whom it stands never changes. */
export function setCouponDates(
  stores: Stores,
  actor: Actor,
  id: number,
  input: unknown,
): { coupon: CouponRow; matched: number } {
  requireRight(stores, actor, 'manage_partners', `coupon ${id}`);
  const before = readCoupon(stores, actor, id);
  const dates = checked(check(couponDatesSchema, input));
  return stores.books.inTransaction(() => {
    stores.books.coupons.update({ id, ...dates });
    audit(stores, actor, 'changed', `coupon ${id}`, changes(before, dates));
    const coupon = readCoupon(stores, actor, id);
    return { coupon, matched: matchWaiting(stores, coupon) };
  });
}
