import { type Carried, carriedBy } from '../placeholders/names';
import { checkDeepLink, hostCovers } from './destination';
import type { Change, Finding, LintInput } from './findings';
import { type Known, parseLink, readNames } from './parts';
import { type SlotValue, decodeValue, readWritten } from './values';

const finding = (
  code: Finding['code'],
  severity: Finding['severity'],
  reason: string,
  fix?: Finding['fix'],
): Finding => ({ code, severity, field: 'to', reason, ...(fix && { fix }) });
const to = (label: string, address: string): Finding['fix'] => ({ label, change: { to: address } });

/** An address in its three parts, by hand: what is wrong with it is lost once it was parsed. */
function cut(address: string): { base: string; query: string | undefined; fragment: string } {
  const [, base = '', query, fragment = ''] = /^([^?#]*)(?:\?([^#]*))?(#.*)?$/s.exec(address) ?? [];
  return { base, query, fragment };
}
const joined = (base: string, pairs: readonly string[], fragment: string): string =>
  `${base}${pairs.length === 0 ? '' : `?${pairs.join('&')}`}${fragment}`;

/** Everything that can be wrong with the page a link is to lead to. The first that spoils the address comes alone. */
export function lintDestination(input: LintInput): Finding[] {
  const address = input.to.trim();
  if (address === '') return [];
  return (
    encodedWhole(address) ??
    noAddress(address) ??
    ownLink(input, address) ?? [
      ...secondQuestionMark(address),
      ...fragmentBeforeQuery(address),
      ...encodedTwice(address),
      ...ownParameters(input, address),
      ...standsAlready(input, address),
      ...host(input, address),
      ...plainHttp(address),
    ]
  );
}

function encodedWhole(address: string): Finding[] | undefined {
  if (!/^https?%3a%2f%2f/i.test(address)) return undefined;
  return [
    finding(
      'double_encoding',
      'error',
      'The page is percent-encoded already and would be encoded a second time. Paste it as a browser shows it.',
      to('Decode it', decodeValue(address)),
    ),
  ];
}

function noAddress(address: string): Finding[] | undefined {
  if (/^https?:\/\//i.test(address) && URL.canParse(address)) return undefined;
  const host = /^[\w-]+(\.[\w-]+)+(?=[/?#:]|$)/.test(address);
  return [
    finding(
      'not_an_address',
      'error',
      'This is not a complete web address: it begins with https:// and names a host.',
      host ? to('Put https:// before it', `https://${address}`) : to('Use the landing page', ''),
    ),
  ];
}

/** A link that leads to a link would count twice, and could lead in a circle. */
function ownLink({ origins, names }: LintInput, address: string): Finding[] | undefined {
  if (!origins.includes(new URL(address).origin)) return undefined;
  const apart = takeApart(address, origins, names && { names });
  return [
    finding(
      'own_link',
      'error',
      'This is a link of the tracking host itself: nested, its click would count twice. Take the page it leads to.',
      apart && { label: 'Take it apart', change: apart.change },
    ),
  ];
}

/**
 * Recognises a link of ours where a page belongs, and takes it apart instead of nesting it.
 * @returns the code it bears and what the draft becomes, or undefined for any other address
 */
export function takeApart(
  pasted: string,
  origins: readonly string[],
  known: Known = {},
): { code: string; change: Change } | undefined {
  const parts = parseLink(pasted, known);
  if (!parts || !origins.includes(parts.origin)) return undefined;
  const { values, to, code } = parts;
  const carried = Object.keys(values).length > 0 && { values };
  return { code, change: { to: to ?? '', kind: to ? 'deep' : 'referral', ...carried } };
}

function secondQuestionMark(address: string): Finding[] {
  const { base, query, fragment } = cut(address);
  // "?" may stand in a query (RFC 3986 §3.4), but what follows it and looks like a pair was meant to be one.
  if (query === undefined || !/\?[^=&]+=/.test(query)) return [];
  return [
    finding(
      'second_question_mark',
      'error',
      'A second "?" begins nothing: what follows it becomes part of the value before it. Pairs are joined by "&".',
      to('Put "&" there', `${base}?${query.replace(/\?(?=[^=&]+=)/g, '&')}${fragment}`),
    ),
  ];
}

function fragmentBeforeQuery(address: string): Finding[] {
  const { base, query, fragment } = cut(address);
  const inside = /^(#[^?]*)\?(.+=.*)$/s.exec(fragment);
  if (!inside) return [];
  const pairs = [query, inside[2]].filter((each): each is string => each !== undefined && each !== '');
  return [
    finding(
      'fragment_before_query',
      'warning',
      'The "#" comes before the "?": the shop’s server would never see what follows. Some pages that run in the browser want it so.',
      to('Put the query first', joined(base, pairs, inside[1] ?? '')),
    ),
  ];
}

function encodedTwice(address: string): Finding[] {
  if (!/%25[0-9a-f]{2}/i.test(address)) return [];
  return [
    finding(
      'double_encoding',
      'warning',
      'It holds "%25" before two digits: it looks encoded twice, and the shop would see a "%" where a sign belongs.',
      to('Decode once', address.replace(/%25([0-9a-f]{2})/gi, '%$1')),
    ),
  ];
}

/** Our parameters behind the page: they would go to the shop, and never be recorded. */
function ownParameters(input: LintInput, address: string): Finding[] {
  const { base, query, fragment } = cut(address);
  if (query === undefined) return [];
  const names = readNames(input.names);
  const moved: Partial<Record<Carried, SlotValue>> = {};
  const seen: string[] = [];
  const rest = query.split('&').filter((pair) => {
    const equals = pair.indexOf('=');
    const name = equals < 0 ? pair : pair.slice(0, equals);
    const slot = names?.get(name) ?? carriedBy(name);
    if (!slot) return true;
    moved[slot] ??= readWritten(pair.slice(equals + 1));
    seen.push(name);
    return false;
  });
  if (seen.length === 0) return [];
  const change: Change = { to: joined(base, rest, fragment), values: moved };
  return [
    finding(
      'sub_id_in_destination',
      'error',
      `${seen.join(', ')} ${seen.length === 1 ? 'stands' : 'stand'} behind the page: the shop would get ${seen.length === 1 ? 'it' : 'them'}, and Brivet would record nothing. Values stand before "to", or the page is encoded.`,
      { label: seen.length === 1 ? 'Move it into its slot' : 'Move them into their slots', change },
    ),
  ];
}

/** A parameter of ours that the page has already. */
function standsAlready({ offer }: LintInput, address: string): Finding[] {
  const { base, query, fragment } = cut(address);
  if (!offer || query === undefined) return [];
  const ours = [...offer.appended.matchAll(/(?:^|[?&])([^={}&]+)=/g)].map(([, name = '']) => name);
  const pairs = query.split('&');
  const nameOf = (pair: string): string => decodeValue(pair.split('=')[0] ?? '');
  const double = ours.filter((name) => pairs.some((pair) => nameOf(pair) === name));
  if (double.length === 0) return [];
  const rest = pairs.filter((pair) => !double.includes(nameOf(pair)));
  return [
    finding(
      'parameter_stands_already',
      'warning',
      `${double.join(', ')} stands in the page already, and the offer appends it: ours takes its place.`,
      to(`Take ${double.join(', ')} out of the page`, joined(base, rest, fragment)),
    ),
  ];
}

function host({ offer, offers }: LintInput, address: string): Finding[] {
  if (!offer) return [];
  const checked = checkDeepLink(address, offer.landingHosts);
  if (checked.ok) return [];
  const url = new URL(address);
  const fitting = offers.find(({ landingHosts }) => landingHosts.some((pattern) => hostCovers(pattern, url)));
  return [
    finding(
      'host_not_allowed',
      'error',
      checked.reason,
      fitting && !url.username
        ? { label: `Use the offer ${fitting.label}`, change: { offerId: fitting.id } }
        : to('Use the landing page', ''),
    ),
  ];
}

function plainHttp(address: string): Finding[] {
  if (!/^http:\/\//i.test(address)) return [];
  return [
    finding(
      'http_destination',
      'warning',
      'The page is asked for without encryption: browsers warn, and the click ID may be lost at the shop’s own redirect to https.',
      to('Use https', address.replace(/^http:/i, 'https:')),
    ),
  ];
}

/** Longest address that all browsers, mail programs and ad platforms are known to take. */
export const LONGEST_ADDRESS = 2000;

export function lintLength({ address, kind, to: page }: LintInput): Finding[] {
  if (address.length <= LONGEST_ADDRESS) return [];
  const shorter = kind !== 'referral' && page !== '';
  return [
    {
      code: 'too_long',
      severity: 'warning',
      field: 'link',
      reason: `The link has ${address.length} characters; some browsers and ad platforms cut after ${LONGEST_ADDRESS}.`,
      ...(shorter && { fix: { label: 'Keep the page with Brivet', change: { kind: 'referral' } } }),
    },
  ];
}
