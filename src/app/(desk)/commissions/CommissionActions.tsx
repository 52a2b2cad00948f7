import { money } from '@/core/money/money';
import { showAmount } from '@/core/money/text';
import type { CommissionListRow } from '@/store/books/commissions';
import { ConfirmButton } from '@/ui/feedback/ConfirmButton';
import { approveOne, rejectOne, reverseOne } from './actions';

/** Its hold is over and nobody has decided yet. */
export const isDue = ({ state, payableOn }: Pick<CommissionListRow, 'state' | 'payableOn'>, today: string): boolean =>
  state === 'pending' && payableOn !== null && payableOn <= today;

/** What can be decided about one commission, by its state. */
export function CommissionActions({ commission, today }: { commission: CommissionListRow; today: string }) {
  const { id, state, partnerName, amount, reversed, currency } = commission;
  const values = { id };
  const left = showAmount(money(amount - reversed, currency));
  const part = (
    <div style={{ marginTop: 12 }}>
      <label className="label" htmlFor={`amount-${id}`}>
        Amount in {currency}, empty for all of {left}
      </label>
      <input className="text" id={`amount-${id}`} name="amount" inputMode="decimal" placeholder="12.50" />
    </div>
  );
  const reversible = state === 'approved' || state === 'in_payout' || state === 'paid';
  return (
    <div className="actions" style={{ margin: '6px 0' }}>
      {isDue(commission, today) && (
        <ConfirmButton
          label="Approve"
          variant="contained"
          title={`Approve ${left} for ${partnerName}?`}
          values={values}
          action={approveOne}
          consequences="It goes into the next payout run. An approval is not undone; what turns out wrong later is taken back with a reason."
        />
      )}
      {state === 'pending' && (
        <ConfirmButton
          label="Reject"
          color="error"
          title={`Reject ${left} for ${partnerName}?`}
          reason
          values={values}
          action={rejectOne}
          consequences="The partner earns nothing for this conversion. It stays on file with your reason, which the partner can read."
        />
      )}
      {reversible && (
        <ConfirmButton
          label="Reverse"
          color="error"
          title={`Take back from ${partnerName}?`}
          reason
          values={values}
          action={reverseOne}
          extra={part}
          consequences={
            state === 'approved'
              ? 'The amount leaves the approved balance. Nothing is overwritten: the ledger shows the reversal.'
              : 'The money is on its way or was paid, so it is set off in the next run.'
          }
        />
      )}
    </div>
  );
}
