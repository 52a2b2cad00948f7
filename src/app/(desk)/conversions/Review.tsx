import Link from 'next/link';
import { isCurrency } from '@/core/money/currency';
import { SIGNALS } from '@/core/conversions/suspicion';
import { showTime } from '@/core/time/zones';
import { listReviews } from '@/services/reviews';
import { REVIEW_STATES } from '@/store/books/reviews';
import { Amount } from '@/ui/figures/Amount';
import { DeskList } from '../../DeskList';
import type { Desk } from '../../desk';
import { DecideReview } from './DecideReview';
import { putBackIntoReview } from './actions';
import { beside, tickColumn } from './columns';

const WORDS = { open: 'To decide', cleared: 'Nothing wrong', rejected: 'Rejected' } as const;

/** Conversions that look odd, the oddest first, each with what was seen; a person says what it means. */
export function Review({ desk }: { desk: Desk }) {
  const { stores, actor, scope, program } = desk;
  const state = REVIEW_STATES.find((each) => each === desk.param('of')) ?? 'open';
  const list = listReviews(stores, actor, scope, state, desk.paging);
  const open = state === 'open';
  return (
    <>
      <div className="bar">
        <div className="shelves" role="group" aria-label="Decisions">
          {REVIEW_STATES.map((each) => (
            <Link
              key={each}
              href={desk.href({ of: each === 'open' ? undefined : each, page: undefined, trace: undefined })}
              aria-current={state === each ? 'true' : undefined}
            >
              {WORDS[each]}
            </Link>
          ))}
        </div>
        <div className="right">
          {desk.may('manage_setup') && (
            <Link className="mute small" href="/setup?shelf=suspicion">
              What is looked for
            </Link>
          )}
          {open && list.total > 0 && <DecideReview />}
        </div>
      </div>
      <DeskList
        desk={desk}
        label="In review"
        list={list}
        exported="reviews"
        keyOf={({ conversionId }) => String(conversionId)}
        traceOf={({ conversionId }) => `conversion:${conversionId}`}
        empty={
          <>
            <b>{open ? 'Nothing looks odd' : 'Nothing here'}</b>
            {open
              ? 'What does is kept here until somebody says what it means; nothing is refused by itself.'
              : 'What is decided in review is listed here.'}
          </>
        }
        columns={beside(
          desk,
          ['time', 'commission'],
          [
            ...(open
              ? [
                  {
                    ...tickColumn,
                    cell: (row: (typeof list.rows)[number]) =>
                      tickColumn.cell({ ...row, id: row.conversionId } as never),
                  },
                ]
              : []),
            {
              key: 'time',
              head: 'Time',
              cell: ({ happened }) => <span className="nowrap mute">{showTime(happened, program.timeZone)}</span>,
            },
            {
              key: 'what',
              head: 'Conversion',
              cell: ({ event, orderRef }) => (
                <span className="nowrap">
                  {event} <code>{orderRef}</code>
                </span>
              ),
            },
            {
              key: 'partner',
              head: 'Partner',
              cell: ({ partnerName, channelName }) => (
                <div className="clip" title={channelName}>
                  <b>{partnerName}</b> <span className="mute">{channelName}</span>
                </div>
              ),
            },
            {
              key: 'signals',
              head: 'What was seen',
              cell: ({ signals }) => (
                <ul className="seen">
                  {signals.map(({ signal, weight, why }) => (
                    <li key={signal} title={SIGNALS[signal].name}>
                      {why} <span className="mute">+{weight}</span>
                    </li>
                  ))}
                </ul>
              ),
            },
            { key: 'score', head: 'Score', num: true, cell: ({ score }) => <b>{score}</b> },
            {
              key: 'commission',
              head: `Commission (${program.currency})`,
              num: true,
              cell: ({ commission, conversionId, amount, currency }) =>
                commission === null ? (
                  isCurrency(currency) && <Amount minor={amount} currency={currency} />
                ) : (
                  <Amount
                    bare
                    minor={commission}
                    currency={program.currency}
                    href={desk.href({ trace: `conversion:${conversionId}` })}
                  />
                ),
            },
            ...(open
              ? []
              : [
                  {
                    key: 'decided',
                    head: 'Decided',
                    cell: ({ conversionId, decidedBy, decidedAt, reason }: (typeof list.rows)[number]) => (
                      <form action={putBackIntoReview} className="repaired">
                        <span className="mute">
                          {decidedBy}
                          {decidedAt !== null && `, ${showTime(decidedAt, program.timeZone)}`} {reason}
                        </span>
                        <input type="hidden" name="id" value={conversionId} />
                        {state === 'cleared' && (
                          <button type="submit" className="more">
                            Undo
                          </button>
                        )}
                      </form>
                    ),
                  },
                ]),
          ],
        )}
      />
    </>
  );
}
