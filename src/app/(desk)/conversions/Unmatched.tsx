import Link from 'next/link';
import { money } from '@/core/money/money';
import { showAmount } from '@/core/money/text';
import { showCount } from '@/core/reports/measures';
import { showTime } from '@/core/time/zones';
import { listOffers } from '@/services/offers';
import { type UnmatchedGroup, listUnmatched, newestRepairs, unmatchedGroups } from '@/services/unmatched';
import { ConfirmButton } from '@/ui/feedback/ConfirmButton';
import { DeskList } from '../../DeskList';
import type { Desk } from '../../desk';
import { AddCoupon } from '../partners/coupons/CouponForms';
import { Repair } from './Repair';
import { addEvent, extendWindow, takeBackRepair } from './actions';
import { columnsOf, tickColumn, traceOf } from './columns';

const REPAIRS_SHOWN = 5;
const amountsOf = ({ amounts }: UnmatchedGroup): string =>
  [...amounts].map(([currency, minor]) => showAmount(money(minor, currency))).join(' + ');

/** What found no partner, by likely cause, each with what would mend it; and what was mended lately. */
export function Unmatched({ desk }: { desk: Desk }) {
  const { stores, actor, program } = desk;
  const manages = desk.may('manage_partners');
  const groups = unmatchedGroups(stores, actor, desk.scope);
  const cause = groups.find(({ key }) => key === desk.param('cause'))?.key;
  const list = listUnmatched(stores, actor, groups, cause, desk.paging);
  const offers = listOffers(stores, actor).map(({ id, name }) => ({ id, name }));
  const inSight = groups.filter(({ key }) => cause === undefined || key === cause);
  const repairs = manages ? newestRepairs(stores, actor, REPAIRS_SHOWN) : [];
  const columns = columnsOf(desk, ['time', 'event', 'order', 'partner', 'offer', 'amount'], []);
  return (
    <>
      {groups.length > 0 && (
        <div className="causes" role="group" aria-label="Causes">
          {groups.map((group) => (
            <div key={group.key} className="cause">
              <Link
                href={desk.href({
                  cause: cause === group.key ? undefined : group.key,
                  page: undefined,
                  trace: undefined,
                })}
                aria-current={cause === group.key ? 'true' : undefined}
              >
                <b>{showCount(group.count)}</b> {group.words}
              </Link>
              <span className="mute nowrap">
                {amountsOf(group)} · since {showTime(group.since, program.timeZone)}
              </span>
              <span className="fix">{manages && <FixOf group={group} offers={offers} />}</span>
            </div>
          ))}
        </div>
      )}
      {manages && list.total > 0 && (
        <div className="bar">
          <span className="mute small">
            {cause ? 'One cause is in sight.' : 'All causes are in sight.'} Tick some, or repair all that are in sight.
          </span>
          <div className="right">
            <Repair ids={inSight.flatMap(({ ids }) => ids)} offers={offers} />
          </div>
        </div>
      )}
      <DeskList
        desk={desk}
        label="Unmatched"
        list={list}
        exported="conversions"
        keyOf={({ id }) => String(id)}
        traceOf={traceOf}
        columns={[
          tickColumn,
          ...columns.map((column) => (column.key === 'partner' ? { ...column, head: 'Why' } : column)),
          {
            key: 'named',
            head: 'Named',
            cell: ({ clickId, coupon }) => (
              <code className="clip" title={clickId ?? coupon ?? ''}>
                {clickId ?? coupon ?? 'nothing'}
              </code>
            ),
          },
        ]}
        empty={
          <>
            <b>Everything is matched</b>Each conversion of this scope found its partner.
          </>
        }
      />
      {repairs.length > 0 && (
        <div className="pad">
          <h2>Repaired lately</h2>
          {repairs.map(({ id, time, actor: who, what, reason, count, undoneAt }) => (
            <form key={id} action={takeBackRepair} className="repaired">
              <span>
                <b>{showCount(count)}</b> {what}{' '}
                <span className="mute">
                  by {who}, {showTime(time, program.timeZone)}: {reason}
                </span>
              </span>
              <input type="hidden" name="id" value={id} />
              {undoneAt === null ? (
                <button type="submit" className="more">
                  Undo
                </button>
              ) : (
                <span className="mute">taken back</span>
              )}
            </form>
          ))}
        </div>
      )}
    </>
  );
}

function FixOf({ group: { fix }, offers }: { group: UnmatchedGroup; offers: { id: number; name: string }[] }) {
  if (fix?.kind === 'coupon') return <AddCoupon offers={offers} code={fix.code} />;
  if (fix?.kind === 'window')
    return (
      <ConfirmButton
        label={`Extend to ${fix.days} days`}
        title={`Extend the click window of ${fix.offer} to ${fix.days} days?`}
        consequences="What fits in it is matched and earns at once, here and from now on. The window can be shortened again; what was matched stays."
        values={{ offerId: fix.offerId, days: fix.days }}
        action={extendWindow}
      />
    );
  if (fix?.kind === 'event')
    return (
      <ConfirmButton
        label={`Add “${fix.event}”`}
        title={`Make “${fix.event}” an event of ${fix.offer}?`}
        consequences="What waited for it is matched at once. Its repeats are ignored; that can be changed in the offer."
        extra={
          <label>
            <input type="checkbox" name="payable" /> It pays, by the rate sheet
          </label>
        }
        values={{ offerId: fix.offerId, event: fix.event }}
        action={addEvent}
      />
    );
  return null;
}
