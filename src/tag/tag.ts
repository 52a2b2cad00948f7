/**
 * The page tag: put on the merchant's pages as <script src="https://{tracking host}/tag.js" async></script>. It keeps
 * the click ID on the merchant's own site, reports landings that came without a redirect, and hands the ID on to
 * forms and links marked with data-brivet. Elements with data-brivet-number show the telephone number of this visit.
 * data-keep="first": a later click does not take the place of the first. It needs no other code and no inline script, so a strict policy
 * (script-src and connect-src with the tracking host) is enough. data-consent="wait": nothing is kept or sent before
 * brivet.consent(true).
 */
interface BrivetTag {
  /** The click ID of this visitor, or '' when none is known. */
  click(): string;
  /** Whom the tag knows this browser by, for the merchant's server to report with; '' before consent. */
  visitor(): string;
  /** Reports a conversion of this visitor; the merchant's server reports it better. False when there is no click to report it for. */
  convert(event: string, fields?: Record<string, unknown>): boolean;
  /** Whether anything may be kept and reported; false takes back what was kept. */
  consent(given: boolean): void;
}

const script = document.currentScript as HTMLScriptElement;
const origin = new URL(script.src).origin;
const KEPT = 'brivet_click';
const VISITOR = 'brivet_visitor';
const PARAMETER = 'bclid';
const KEPT_SECONDS = 90 * 86_400;
const CROCKFORD = '0123456789ABCDEFGHJKMNPQRSTVWXYZ';
const ULID = /^[0-7][0-9A-HJKMNP-TV-Z]{25}$/;
let allowed = script.dataset.consent !== 'wait';

/** A ULID: the time, then 80 random bits. */
function newId(): string {
  let time = Date.now();
  let id = '';
  for (let i = 0; i < 10; i++, time = Math.floor(time / 32)) id = CROCKFORD.charAt(time % 32) + id;
  for (const byte of crypto.getRandomValues(new Uint8Array(16))) id += CROCKFORD.charAt(byte % 32);
  return id;
}

const read = (name: string): string => new RegExp(`(?:^|; )${name}=(\\w{26})`).exec(document.cookie)?.[1] ?? '';
function write(name: string, value: string, seconds = KEPT_SECONDS): void {
  const secure = location.protocol === 'https:' ? '; Secure' : '';
  document.cookie = `${name}=${value}; Path=/; Max-Age=${seconds}; SameSite=Lax${secure}`;
}
const kept = (): string => read(KEPT);
const keep = (id: string): void => {
  if (script.dataset.keep !== 'first' || !kept()) write(KEPT, id);
};
function visitor(): string {
  if (allowed && !read(VISITOR)) write(VISITOR, newId());
  return read(VISITOR);
}

function report(path: string, message: object): void {
  const body = JSON.stringify(message);
  const sent = navigator.sendBeacon?.(origin + path, new Blob([body], { type: 'text/plain' }));
  if (!sent)
    void fetch(origin + path, { method: 'POST', body, keepalive: true, mode: 'no-cors' }).catch(() => undefined);
}

/** What the address says: a click ID from a redirect, or whose link led here without one. */
function land(): void {
  if (!allowed) return;
  const query = new URLSearchParams(location.search);
  const arrived = query.get(PARAMETER) ?? '';
  if (ULID.test(arrived)) {
    keep(arrived);
    // Once a visit is enough to know whose click it was.
    if (sessionStorage.getItem(arrived)) return;
    sessionStorage.setItem(arrived, '1');
    return report('/hit', { id: arrived, visitor: visitor() });
  }
  const ref = query.get('ref');
  if (!ref) return;
  // Loading the same landing again, or coming back to it, is no new click.
  const seen = `${KEPT} ${location.search}`;
  const before = sessionStorage.getItem(seen);
  if (before) return keep(before);
  const id = newId();
  sessionStorage.setItem(seen, id);
  keep(id);
  report('/hit', { id, ref, visitor: visitor(), page: location.href, referrer: document.referrer });
}

/** Marked elements show the number by which this visit's call is known; a link calls it. */
async function showNumbers(): Promise<void> {
  const marked = document.querySelectorAll<HTMLElement>('[data-brivet-number]');
  if (!allowed || !kept() || !marked.length) return;
  const answer = await fetch(`${origin}/number?click=${kept()}`).catch(() => undefined);
  const { number } = answer?.ok ? ((await answer.json()) as { number?: string }) : {};
  if (!number) return;
  for (const element of marked) {
    element.textContent = number;
    if (element instanceof HTMLAnchorElement) element.href = `tel:${number}`;
  }
}
function arrive(): void {
  land();
  if (document.readyState === 'loading') document.addEventListener('DOMContentLoaded', () => void showNumbers());
  else void showNumbers();
}

/** Links marked for it take the ID to the next page, when they are followed. */
document.addEventListener(
  'click',
  ({ target }) => {
    const link = target instanceof Element && target.closest<HTMLAnchorElement>('a[data-brivet][href]');
    if (!link || !kept()) return;
    const address = new URL(link.href);
    address.searchParams.set(PARAMETER, kept());
    link.href = address.href;
  },
  true,
);

/** Forms marked for it carry the ID to the merchant's server. */
document.addEventListener(
  'submit',
  ({ target }) => {
    if (!(target instanceof HTMLFormElement) || !target.hasAttribute('data-brivet') || !kept()) return;
    const standing = target.querySelector<HTMLInputElement>(`input[name="${PARAMETER}"]`);
    const input = standing ?? target.appendChild(document.createElement('input'));
    Object.assign(input, { type: 'hidden', name: PARAMETER, value: kept() });
  },
  true,
);

const tag: BrivetTag = {
  click: kept,
  visitor,
  convert(event, fields) {
    const id = allowed && kept();
    if (!id) return false;
    report('/conversion', { ...fields, event, click_id: id });
    return true;
  },
  consent(given) {
    allowed = given;
    if (given) arrive();
    else for (const name of [KEPT, VISITOR]) write(name, '', 0);
  },
};
Object.assign(window, { brivet: tag });
arrive();
export {};
