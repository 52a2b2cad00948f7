import Link from 'next/link';
import { CALL_OUTCOMES, type CallOutcome } from '@/core/calls/judge';
import { showCount } from '@/core/reports/measures';
import { showTime } from '@/core/time/zones';
import { CALL_SHELVES, callCounts, listCalls } from '@/services/calls';
import { Amount } from '@/ui/figures/Amount';
import { DeskList } from '../../DeskList';
import type { Desk } from '../../desk';
import type { CallListRow } from '@/store/books/calls';
import { beside } from './columns';

/** 184 → "3:04". */
const length = (seconds: number): string => `${Math.floor(seconds / 60)}:${String(seconds % 60).padStart(2, '0')}`;
const isOutcome = (text: string): text is CallOutcome => Object.hasOwn(CALL_OUTCOMES, text);

/** Calls as the exchange reported them: which became conversions, and why the others did not. */
export function Calls({ desk }: { desk: Desk }) {
  const { stores, actor, scope, program } = desk;
  const outcome = CALL_SHELVES.find((each) => each === desk.param('of')) ?? null;
  const counts = callCounts(stores, actor, scope);
  const list = listCalls(stores, actor, scope, outcome, desk.paging);
  return (
    <>
      {counts.length > 0 && (
        <div className="bar">
          <div className="shelves" role="group" aria-label="Outcomes">
            {counts.map(({ outcome: each, count }) => (
              <Link
                key={each}
                href={desk.href({ of: outcome === each ? undefined : each, page: undefined, trace: undefined })}
                aria-current={outcome === each ? 'true' : undefined}
              >
                {isOutcome(each) ? CALL_OUTCOMES[each] : each} <b>{showCount(count)}</b>
              </Link>
            ))}
          </div>
        </div>
      )}
      <DeskList
        desk={desk}
        label="Calls"
        list={list}
        exported="calls"
        keyOf={({ id }) => String(id)}
        traceOf={({ conversionId, clickId }) =>
          conversionId !== null ? `conversion:${conversionId}` : clickId !== null ? `click:${clickId}` : undefined
        }
        empty={
          <>
            <b>No calls here</b>Numbers of your telephone exchange are added under Setup, Calls.
          </>
        }
        columns={beside<CallListRow>(
          desk,
          ['number', 'caller', 'channel'],
          [
            {
              key: 'time',
              head: 'Began',
              cell: ({ time }) => <span className="nowrap mute">{showTime(time, program.timeZone)}</span>,
            },
            { key: 'number', head: 'Number', cell: ({ number }) => <code className="nowrap">{number}</code> },
            {
              key: 'caller',
              head: 'Caller',
              cell: ({ callerEnd, place }) => (
                <span className="nowrap">
                  {callerEnd === '' ? <span className="mute">hidden</span> : <code>…{callerEnd}</code>}{' '}
                  <span className="mute">{place}</span>
                </span>
              ),
            },
            {
              key: 'length',
              head: 'Length (min:s)',
              num: true,
              cell: ({ length: seconds, answered }) =>
                answered === 1 ? length(seconds) : <span className="mute">–</span>,
            },
            {
              key: 'channel',
              head: 'Channel',
              cell: ({ channelName, partnerName, clickId }) =>
                channelName && (
                  <div className="clip" title={`${channelName} of ${partnerName ?? ''}`}>
                    {channelName} <span className="mute">{clickId === null ? '' : '· one visit'}</span>
                  </div>
                ),
            },
            {
              key: 'outcome',
              head: 'What became of it',
              cell: ({ outcome: each, detail }) => (
                <div className="clip" style={{ maxWidth: 460 }} title={detail}>
                  <span className={each === 'converted' ? 'strong' : each === 'asked' ? 'tag wait' : 'tag'}>
                    {isOutcome(each) ? CALL_OUTCOMES[each] : each}
                  </span>{' '}
                  <span className="mute">{detail}</span>
                </div>
              ),
            },
            {
              key: 'commission',
              head: `Commission (${program.currency})`,
              num: true,
              cell: ({ commission, conversionId }) =>
                commission !== null && (
                  <Amount
                    bare
                    minor={commission}
                    currency={program.currency}
                    href={desk.href({ trace: `conversion:${conversionId ?? 0}` })}
                  />
                ),
            },
          ],
        )}
      />
    </>
  );
}
