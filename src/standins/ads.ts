import { placeOrder } from './orders';
import { type Asked, type Said, escape, field, page as pageOf } from './web';

/** An ad platform, an outsider: it fills its placeholders into the address of an ad, and sends people there. */
const LOOK = { name: 'Quillsearch Ads', ink: '#22301F', paper: '#F5F8EF', main: '#3E6B2F' };
const MOST = 500;
/** Placeholders of the made-up platforms: what stands between their signs is a name of theirs. */
const PLACEHOLDER = /\{\{(\w+)\}\}|\[([A-Z]+)\]|%%([A-Z]+)%%|\$\{(\w+)\}/g;
const VALUES: Readonly<Record<string, readonly string[]>> = {
  keyword: ['ash glaze', 'raku kiln', 'pottery class near me', 'glaze box'],
  match: ['exact', 'phrase', 'broad'],
  screen: ['phone', 'phone', 'desktop', 'tablet'],
  bid: ['0.18', '0.24', '0.31', '0.42'],
};
const AGENTS = [
  'Mozilla/5.0 (Windows NT 10.0; Win64; x64; rv:143.0) Gecko/20100101 Firefox/143.0',
  'Mozilla/5.0 (iPhone; CPU iPhone OS 18_6 like Mac OS X) AppleWebKit/605.1.15 Version/18.6 Mobile/15E148 Safari/604.1',
  'Mozilla/5.0 (Linux; Android 15) AppleWebKit/537.36 (KHTML, like Gecko) Chrome/141.0.0.0 Mobile Safari/537.36',
];
const pick = <T>(values: readonly T[], fallback: T): T => values[Math.floor(Math.random() * values.length)] ?? fallback;

/** The address of an ad as one visitor gets it: each placeholder filled, spaces encoded. */
export const filled = (address: string): string =>
  address.replaceAll(PLACEHOLDER, (_, a?: string, b?: string, c?: string, d?: string) => {
    const name = (a ?? b ?? c ?? d ?? '').toLowerCase();
    const unique = /click|id$/.test(name);
    const value = unique
      ? `q${Math.random().toString(36).slice(2, 12)}`
      : pick(VALUES[name] ?? [`${name}-1`, `${name}-2`, `${name}-3`], name);
    return encodeURIComponent(value);
  });

export const ads = (note = '', address = ''): Said => ({
  html: pageOf(
    LOOK,
    'Send visitors',
    `<h1>Send visitors</h1><p>Paste a link as it was issued: {{keyword}}, [CLICK], %%AD%% and \${x} are filled in for each visitor.</p>
${note && `<p role="status">${note}</p>`}<form method="post" action="/ads" style="display:block">
<p><label>Address of the ad<br><textarea name="address" rows="3" style="width:100%" required>${escape(address)}</textarea></label></p>
<p><label>Visitors <input name="visitors" value="25" size="4" inputmode="numeric"></label>
<label>of whom <input name="buyers" value="1" size="3" inputmode="numeric"> order a glaze box</label> <button>Send them</button></p></form>`,
  ),
});

async function visit(address: string): Promise<{ status: number; to: string }> {
  const answer = await fetch(address, { redirect: 'manual', headers: { 'User-Agent': pick(AGENTS, '') } });
  return { status: answer.status, to: answer.headers.get('location') ?? '' };
}

export async function sendVisitors({ form }: Asked): Promise<Said> {
  const address = field(form, 'address');
  if (!/^https?:\/\//.test(address)) return ads('The address begins with http:// or https://.', address);
  const count = Math.min(MOST, Math.max(1, Math.floor(Number(field(form, 'visitors'))) || 1));
  const buyers = Math.min(count, Math.max(0, Math.floor(Number(field(form, 'buyers'))) || 0));
  const answers = new Map<string, number>();
  let [example, bought] = ['', 0];
  for (let i = 0; i < count; i++) {
    const own = filled(address);
    example ||= own;
    const { status, to } = await visit(own).catch((error: unknown) => ({ status: 0, to: String(error) }));
    const words = status === 0 ? to : String(status);
    answers.set(words, (answers.get(words) ?? 0) + 1);
    const clickId = /[?&]bclid=([0-9A-Z]{26})/.exec(to)?.[1] ?? '';
    if (i >= buyers || clickId === '') continue;
    await placeOrder({ sku: 'glaze-box', quantity: 1, coupon: '', customer: 'ada', clickId, visitor: '' });
    bought += 1;
  }
  const said = [...answers].map(([status, times]) => `${times} × ${escape(status)}`).join(', ');
  return ads(`Sent ${count}: ${said}; ${bought} ordered. The first went to <code>${escape(example)}</code>`, address);
}
