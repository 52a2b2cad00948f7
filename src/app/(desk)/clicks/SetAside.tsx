import { SET_ASIDE_REASONS, SET_ASIDE_WORDS } from '@/core/clicks/set_aside';
import { showCount } from '@/core/reports/measures';
import { showTime } from '@/core/time/zones';
import { listAddressLists } from '@/services/address_lists';
import { setAsideReasons } from '@/services/clicks';
import type { Desk } from '../../desk';
import { AddressListDialog, FloodRule, ListActions } from './Rules';

const LISTS_SHOWN = 20;

/** Why clicks are set aside, how many in this scope, and the rules that can be set. */
export function SetAside({ desk }: { desk: Desk }) {
  const { stores, actor, scope, program } = desk;
  const counts = new Map(setAsideReasons(stores, actor, scope).map(({ reason, count }) => [reason, count]));
  const manages = desk.may('manage_setup');
  const lists = manages ? listAddressLists(stores, actor) : [];
  return (
    <div className="aside">
      <table className="reasons" aria-label="Reasons">
        <tbody>
          {SET_ASIDE_REASONS.map((reason) => (
            <tr key={reason} className={counts.has(reason) ? undefined : 'mute'}>
              <td className="num strong">{showCount(counts.get(reason) ?? 0)}</td>
              <th scope="row">{reason}</th>
              <td className="mute">{SET_ASIDE_WORDS[reason]}</td>
            </tr>
          ))}
        </tbody>
      </table>
      {manages && (
        <div className="rules" role="group" aria-label="Rules">
          <FloodRule most={program.floodMost} currency={program.currency} />
          {lists.slice(0, LISTS_SHOWN).map((list) => (
            <div key={list.id} className="rule">
              <span>
                <b>{list.name}</b>{' '}
                <span className="mute">
                  {showCount(list.ranges)} {list.ranges === 1 ? 'range' : 'ranges'},{' '}
                  {list.effect === 'set_aside' ? 'set aside' : 'marked as proxy'},{' '}
                </span>
                {list.isOn === 1 ? 'in force' : <span className="tag wait">not in force</span>}
                <span className="mute small" title={`by ${list.changedBy}`}>
                  {' '}
                  since {showTime(list.changedAt, program.timeZone)}
                </span>
              </span>
              <ListActions list={list} currency={program.currency} />
            </div>
          ))}
          <div className="rule">
            <span className="mute">Lists of addresses: what comes from them is set aside, or marked as a proxy.</span>
            <AddressListDialog currency={program.currency} />
          </div>
        </div>
      )}
    </div>
  );
}
