import { readNames, readQuery } from '@/core/links/parts';
import { splitRecorded } from '@/core/links/proof';
import type { Page, Paging } from '@/store/database';
import type { ClickShelf, LoggedClick } from '@/store/rollups';
import type { StoredClick } from '@/store/traffic';
import { type Actor, requireOwn } from './actor';
import { type Scope, filterFor } from './scope';
import type { Stores } from './stores';

export interface ClickListRow extends LoggedClick {
  linkCode: string;
  partnerName: string;
  channelName: string;
  offerName: string;
}

/** Reads a column of names once per page. */
const naming = (read: (id: number) => string | undefined): ((id: number) => string) => {
  const known = new Map<number, string>();
  return (id) => {
    const name = known.get(id) ?? read(id) ?? `${id}`;
    known.set(id, name);
    return name;
  };
};

export function listClicks(
  stores: Stores,
  actor: Actor,
  scope: Scope,
  shelf: ClickShelf,
  paging: Paging,
): Page<ClickListRow> {
  const { links, partners, offers } = stores.books;
  const { rows, total } = stores.rollups.list(filterFor(actor, scope), shelf, paging);
  const link = naming((id) => links.byId(id)?.code);
  const partner = naming((id) => partners.byId(id)?.name);
  const channel = naming((id) => partners.channel(id)?.name);
  const offer = naming((id) => offers.byId(id)?.name);
  return {
    total,
    rows: rows.map((row) => ({
      ...row,
      linkCode: link(row.linkId),
      partnerName: partner(row.partnerId),
      channelName: channel(row.channelId),
      offerName: offer(row.offerId),
    })),
  };
}

export const setAsideReasons = (stores: Stores, actor: Actor, scope: Scope) =>
  stores.rollups.setAsideReasons(filterFor(actor, scope));

export interface ClickDetail extends StoredClick {
  values: Record<string, string>;
  /** The parts of composite values: "sub2.match". */
  split: Record<string, string>;
}

/** A click as it came, with its values read from the query. */
export function readClick(stores: Stores, actor: Actor, clickId: string): ClickDetail {
  const click = requireOwn(stores, actor, stores.traffic.click(clickId), `click ${clickId}`);
  const parts = stores.books.links.byId(click.linkId)?.parts;
  const { slots, cost, to } = readQuery(click.query, readNames(parts?.names));
  return {
    ...click,
    values: { ...slots, ...(cost !== undefined && { cost }), ...(to !== undefined && { to }) },
    split: splitRecorded(parts?.values ?? {}, slots),
  };
}
