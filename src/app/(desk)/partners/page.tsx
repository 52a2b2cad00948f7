import type { Metadata } from 'next';
import Link from 'next/link';
import { PARTNER_STATES } from '@/core/partners/schema';
import { listGroups, listPartners } from '@/services/partners';
import { wholeNumber } from '@/services/scope';
import type { PartnerRow } from '@/store/books/partners';
import type { Column } from '@/ui/table/RecordTable';
import { DeskList } from '../../DeskList';
import { Shell } from '../../Shell';
import { type SearchParams, openDesk } from '../../desk';
import { NewPartner } from './PartnerForms';

export const metadata: Metadata = { title: 'Partners' };

const DETAILS_WORDS = { missing: 'missing', unchecked: 'not checked', checked: 'checked' };

export default async function PartnersPage({ searchParams }: { searchParams: SearchParams }) {
  const desk = await openDesk(searchParams);
  const state = PARTNER_STATES.find((each) => each === desk.param('state')) ?? null;
  const text = desk.param('name') ?? '';
  const group = wholeNumber(desk.param('group'));
  const groups = listGroups(desk.stores, desk.actor);
  const list = listPartners(desk.stores, desk.actor, { state, group, text, ...desk.paging });
  const columns: Column<PartnerRow>[] = [
    {
      key: 'name',
      head: 'Partner',
      cell: ({ id, name }) => (
        <Link className="strong" href={`/partners/${id}`}>
          {name}
        </Link>
      ),
    },
    { key: 'code', head: 'Code', cell: ({ code }) => <code>{code}</code> },
    {
      key: 'state',
      head: 'State',
      cell: ({ state: is }) => (
        <span className={is === 'applied' ? 'tag wait' : is === 'active' ? undefined : 'mute'}>{is}</span>
      ),
    },
    { key: 'group', head: 'Group', cell: ({ group: name }) => name ?? <span className="mute">none</span> },
    { key: 'country', head: 'Country', cell: ({ country }) => country },
    { key: 'currency', head: 'Paid in', cell: ({ payoutCurrency }) => payoutCurrency },
    {
      key: 'details',
      head: 'Payout details',
      cell: ({ details, onHold }) =>
        onHold === null ? (
          <span className={details === 'checked' ? undefined : 'mute'}>{DETAILS_WORDS[details]}</span>
        ) : (
          <span className="tag trouble" title={onHold}>
            on hold
          </span>
        ),
    },
    {
      key: 'notes',
      head: 'Notes',
      cell: ({ notes }) => (
        <div className="clip mute" title={notes}>
          {notes}
        </div>
      ),
    },
  ];
  return (
    <Shell desk={desk} station="partners" title="Partners">
      <section className="card">
        <div className="head">
          <nav className="shelves" aria-label="Shelves">
            {[undefined, ...PARTNER_STATES].map((each) => (
              <Link
                key={each ?? 'all'}
                href={desk.href({ state: each, page: undefined })}
                aria-current={state === (each ?? null) ? 'page' : undefined}
              >
                {each ?? 'All'}
              </Link>
            ))}
          </nav>
          <div className="right">
            <form role="search" className="actions">
              {state && <input type="hidden" name="state" value={state} />}
              {groups.length > 0 && (
                <select
                  className="text"
                  style={{ width: 'auto' }}
                  name="group"
                  defaultValue={group ?? ''}
                  aria-label="Group"
                >
                  <option value="">any group</option>
                  {groups.map(({ id, name }) => (
                    <option key={id} value={id}>
                      {name}
                    </option>
                  ))}
                </select>
              )}
              <input
                className="text"
                name="name"
                defaultValue={text}
                style={{ width: 150 }}
                placeholder="Name or code"
                aria-label="Name or code"
              />
              <button className="pick">Show</button>
            </form>
            <Link className="pick" href="/partners/coupons">
              Coupons
            </Link>
            {desk.may('manage_partners') && (
              <Link className="pick" href="/partners/import">
                Import
              </Link>
            )}
            {desk.may('manage_partners') && <NewPartner currency={desk.program.currency} />}
          </div>
        </div>
        <DeskList
          desk={desk}
          label="Partners"
          columns={columns}
          list={list}
          exported="partners"
          keyOf={({ id }) => String(id)}
          empty={
            <>
              <b>No partner fits</b>Look at another shelf, or take one in.
            </>
          }
        />
      </section>
    </Shell>
  );
}
