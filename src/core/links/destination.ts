import { CLICK_NAMES } from '../placeholders/names';
import { compileTemplate } from '../placeholders/template';

export type Checked = { ok: true; url: URL } | { ok: false; reason: string };
const no = (reason: string): Checked => ({ ok: false, reason });

/** Whether a host pattern ("larkmoor.example", "*.larkmoor.example", "larkmoor.example:8443") covers an address. */
export function hostCovers(pattern: string, url: URL): boolean {
  const [host = '', port = ''] = pattern.toLowerCase().split(/:(?=\d+$)/);
  if (url.port !== port) return false;
  return host.startsWith('*.') ? url.hostname.endsWith(host.slice(1)) : url.hostname === host;
}

/**
 * No open redirect: a deep link must be http(s), without user info, on one of the offer’s landing hosts, at the
 * default port or a listed one.
 */
export function checkDeepLink(to: string, landingHosts: readonly string[]): Checked {
  if (!/^https?:\/\//i.test(to)) return no('A deep link begins with https:// (or http://).');
  const url = URL.parse?.(to) ?? tryUrl(to);
  if (!url) return no(`"${to}" is not a complete web address.`);
  if (url.username || url.password) return no('A deep link cannot carry a user name or password.');
  if (!landingHosts.some((pattern) => hostCovers(pattern, url)))
    return no(`"${url.host}" is not among the offer’s landing hosts (${landingHosts.join(', ')}).`);
  return { ok: true, url };
}

function tryUrl(text: string): URL | undefined {
  try {
    return new URL(text);
  } catch {
    return undefined;
  }
}

/** Why a landing page template cannot be saved, or undefined. Placeholders must not decide the host. */
export function landingPageProblem(text: string): string | undefined {
  const compiled = compileTemplate(text, CLICK_NAMES);
  if (!compiled.ok) return compiled.reason;
  const authority = /^https?:\/\/([^/?#]*)/i.exec(text)?.[1];
  if (authority === undefined) return 'A landing page begins with https:// (or http://).';
  if (authority.includes('{'))
    return 'A placeholder cannot stand in the host name: the visitor could be sent anywhere.';
  if (authority.includes('@')) return 'A landing page cannot carry a user name or password.';
  return tryUrl(compiled.template.expand({})) ? undefined : `"${text}" is not a complete web address.`;
}

/** Why the parameters appended to a landing page cannot be saved, or undefined. */
export function appendedParametersProblem(text: string): string | undefined {
  const compiled = compileTemplate(text, CLICK_NAMES);
  if (!compiled.ok) return compiled.reason;
  if (/[#\s]/.test(text.replace(/\{[^}]*\}/g, ''))) return 'Appended parameters cannot contain spaces or "#".';
  const filled = compiled.template.expand(Object.fromEntries(CLICK_NAMES.map((name) => [name, 'x'])));
  const pairs = filled === '' ? [] : filled.replace(/^[?&]/, '').split('&');
  if (!pairs.every((pair) => /^[^=]+=/.test(pair))) return 'Write appended parameters as name={value}, joined by "&".';
  return undefined;
}
