/**
 * The page tag: put on the merchant's pages as <script src="https://{tracking host}/tag.js" async></script>. It keeps
 * the click ID on the merchant's own site, reports landings that came without a redirect, and hands the ID on to
 * forms and links marked with data-brivet. It needs no other code and no inline script, so a strict policy
 * (script-src and connect-src with the tracking host) is enough. data-consent="wait": nothing is kept or sent before
 * brivet.consent(true).
 */
interface BrivetTag {
  /** The click ID of this visitor, or '' when none is known. */
  click(): string;
  /** Reports a conversion of this visitor; the merchant's server reports it better. False when there is no click to report it for. */
  convert(event: string, fields?: Record<string, unknown>): boolean;
  /** Whether anything may be kept and reported; false takes back what was kept. */
  consent(given: boolean): void;
}

const script = document.currentScript as HTMLScriptElement;
const origin = new URL(script.src).origin;
const KEPT = 'brivet_click';
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

const kept = (): string => new RegExp(`(?:^|; )${KEPT}=(\\w{26})`).exec(document.cookie)?.[1] ?? '';
function keep(id: string, seconds = KEPT_SECONDS): void {
  const secure = location.protocol === 'https:' ? '; Secure' : '';
  document.cookie = `${KEPT}=${id}; Path=/; Max-Age=${seconds}; SameSite=Lax${secure}`;
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
  if (ULID.test(arrived)) return keep(arrived);
  const ref = query.get('ref');
  if (!ref) return;
  // Loading the same landing again, or coming back to it, is no new click.
  const seen = `${KEPT} ${location.search}`;
  const before = sessionStorage.getItem(seen);
  if (before) return keep(before);
  const id = newId();
  sessionStorage.setItem(seen, id);
  keep(id);
  report('/hit', { id, ref, page: location.href, referrer: document.referrer });
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
  convert(event, fields) {
    const id = allowed && kept();
    if (!id) return false;
    report('/conversion', { ...fields, event, click_id: id });
    return true;
  },
  consent(given) {
    allowed = given;
    if (given) land();
    else keep('', 0);
  },
};
Object.assign(window, { brivet: tag });
land();
export {};
