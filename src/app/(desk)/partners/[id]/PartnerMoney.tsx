import Link from 'next/link';
import { type Day, showDay } from '@/core/time/calendar';
import { partnerMoney } from '@/services/partner_money';
import type { PartnerRow } from '@/store/books/partners';
import { ConfirmButton } from '@/ui/feedback/ConfirmButton';
import { Amount } from '@/ui/figures/Amount';
import type { Desk } from '../../../desk';
import { PutDetails } from '../PartnerForms';
import { checkDetails } from '../actions';

/** What the partner has coming, where it is paid, and the statements so far. */
export function PartnerMoney({ desk, partner }: { desk: Desk; partner: PartnerRow }) {
  const { pending, approved, inPayout, statements } = partnerMoney(desk.stores, desk.actor, partner.id);
  const { currency } = desk.program;
  const mayPay = desk.may('manage_payout_details');
  return (
    <div className="stack" id="payout">
      <div>
        <h2>Money</h2>
        <dl className="facts">
          {(
            [
              ['Held', pending],
              ['Approved, not paid', approved],
              ['In payout', inPayout],
            ] as const
          ).map(([what, minor]) => [
            <dt key={what}>{what}</dt>,
            <dd key={`${what}-amount`} className="strong">
              <Amount minor={minor} currency={currency} />
            </dd>,
          ])}
        </dl>
      </div>
      <div>
        <h2>Payout details</h2>
        {partner.onHold && (
          <p className="note trouble" style={{ marginBottom: 8 }}>
            On hold. {partner.onHold}
          </p>
        )}
        {partner.details === 'missing' ? (
          <p className="note wait" style={{ marginBottom: 8 }}>
            None yet. Runs leave this partner out and carry the money.
          </p>
        ) : (
          <p style={{ marginBottom: 8 }}>
            <code>{partner.detailsMask}</code>{' '}
            <span className={partner.details === 'checked' ? 'mute' : 'tag wait'}>
              {partner.details === 'checked' ? 'checked' : 'not checked'}
            </span>
          </p>
        )}
        {mayPay ? (
          <div className="actions">
            <PutDetails partnerId={partner.id} present={partner.details !== 'missing'} />
            {partner.details === 'unchecked' && (
              <ConfirmButton
                label="Mark checked"
                variant="contained"
                title="Are these details right?"
                values={{ id: partner.id }}
                action={checkDetails}
                consequences="From now on payout runs pay to this account. Compare holder and account with the partner’s papers first."
              />
            )}
          </div>
        ) : (
          <p className="mute small">Finance enters and checks them.</p>
        )}
      </div>
      <div>
        <h2>Statements</h2>
        {statements.length === 0 && <p className="mute">None yet.</p>}
        {statements.map((item) => (
          <p key={item.runId}>
            <Link href={`/payouts/${item.runId}`}>Run {item.number}</Link>, up to {showDay(item.cutOff as Day)}:{' '}
            <Amount minor={item.payoutAmount ?? 0} currency={item.payoutCurrency} />{' '}
            <span className={item.state === 'returned' ? 'tag trouble' : 'mute'}>{item.state}</span>{' '}
            <a href={`/payouts/${item.runId}/statement/${partner.id}/pdf`}>PDF</a>
          </p>
        ))}
      </div>
    </div>
  );
}
