import { unsealData } from 'iron-session';
import { type NextRequest, NextResponse } from 'next/server';
import { SESSION_COOKIE, type Session, noteForged, sessionOptions, stores } from '@/app/server';
import { edgeOrigin, isTrackingHost } from '@/services/stores';

/** What has a policy of its own, or needs none. */
const OTHERS = /^\/(favicon\.ico|api\/|healthz|live)/;
const FORGED =
  'This session is not one of ours, or has run out. Its cookie was removed: open /sign-in to sign in again.\n';

/** A session cookie that was not sealed here gets nowhere, and leaves an audit line. */
async function refuseForged(request: NextRequest): Promise<Response | undefined> {
  const cookie = request.cookies.get(SESSION_COOKIE)?.value;
  if (cookie === undefined) return undefined;
  const { userId } = await unsealData<Session>(cookie, sessionOptions());
  if (userId !== undefined) return undefined;
  noteForged();
  const response = new NextResponse(FORGED, { status: 403, headers: { 'Content-Type': 'text/plain; charset=utf-8' } });
  response.cookies.delete(SESSION_COOKIE);
  return response;
}

/**
 * For an installation with a single port: what is asked of a tracking host goes on to the edge, which alone answers and
 * stores it. A proxy before both ports is faster by far, because then no web application stands before a visitor.
 */
function forEdge({ headers, cookies, nextUrl }: NextRequest): Response | undefined {
  const host = headers.get('host')?.toLowerCase();
  // Whoever is signed in here stays here, so that a tracking host that was set to this very name can be set right.
  if (!host || cookies.has(SESSION_COOKIE) || !isTrackingHost(stores(), host)) return undefined;
  // Part by part: of "//somewhere.example/" as a whole, the URL standard would make another host.
  const address = new URL(edgeOrigin());
  address.pathname = nextUrl.pathname;
  address.search = nextUrl.search;
  return NextResponse.rewrite(address);
}

/** Every page gets a policy of its own: scripts run only with this answer's nonce, and nothing is loaded from outside. */
export async function proxy(request: NextRequest) {
  const handed = forEdge(request);
  if (handed) return handed;
  if (OTHERS.test(request.nextUrl.pathname)) return NextResponse.next();
  const refused = await refuseForged(request);
  if (refused) return refused;
  const nonce = btoa(crypto.randomUUID());
  const policy = [
    "default-src 'self'",
    `script-src 'self' 'nonce-${nonce}' 'strict-dynamic'`,
    `style-src 'self' 'nonce-${nonce}'`,
    "style-src-attr 'unsafe-inline'",
    "img-src 'self' data:",
    "font-src 'self'",
    "connect-src 'self'",
    "object-src 'none'",
    "base-uri 'none'",
    "form-action 'self'",
    "frame-ancestors 'none'",
  ].join('; ');
  const headers = new Headers(request.headers);
  headers.set('x-nonce', nonce);
  headers.set('Content-Security-Policy', policy);
  const response = NextResponse.next({ request: { headers } });
  response.headers.set('Content-Security-Policy', policy);
  response.headers.set('Referrer-Policy', 'same-origin');
  response.headers.set('X-Content-Type-Options', 'nosniff');
  return response;
}

export const config = { matcher: ['/((?!_next/).*)'] };
