'use server';
import { createCoupon, setCouponDates } from '@/services/coupons';
import type { ActionState } from '@/ui/feedback/ConfirmButton';
import { act } from '../../../action';

const found = (matched: number): string =>
  matched === 0
    ? ''
    : ` ${matched} ${matched === 1 ? 'conversion that waited' : 'conversions that waited'} for it found their partner.`;

export async function addCoupon(fields: unknown): Promise<ActionState> {
  return act((stores, actor) => {
    const { coupon, matched } = createCoupon(stores, actor, fields);
    return `The code ${coupon.code} is in force.${found(matched)}`;
  });
}

export async function saveCouponDates(id: number, dates: unknown): Promise<ActionState> {
  return act((stores, actor) => {
    const { coupon, matched } = setCouponDates(stores, actor, id, dates);
    return `Saved the days of ${coupon.code}.${found(matched)}`;
  });
}
