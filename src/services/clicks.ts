import { type ParameterNames, readNames, readQuery } from '@/core/links/parts';
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
  /** What the link's source calls its values. */
  names: ParameterNames;
}

/** Reads what stands behind a column of IDs once per page. */
const once = <T>(read: (id: number) => T): ((id: number) => T) => {
  const known = new Map<number, T>();
  return (id) => {
    const value = known.get(id) ?? read(id);
    known.set(id, value);
    return value;
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
  const link = once((id) => links.byId(id));
  const partner = once((id) => partners.byId(id)?.name ?? `${id}`);
  const channel = once((id) => partners.channel(id)?.name ?? `${id}`);
  const offer = once((id) => offers.byId(id)?.name ?? `${id}`);
  return {
    total,
    rows: rows.map((row) => ({
      ...row,
      linkCode: link(row.linkId)?.code ?? `${row.linkId}`,
      names: link(row.linkId)?.parts.names ?? {},
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
  names: ParameterNames;
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
    names: parts?.names ?? {},
  };
}
