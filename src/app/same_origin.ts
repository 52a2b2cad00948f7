/** Whether a request comes from a page of ours: route handlers that change something ask, as server actions do by themselves. */
export function fromOurs(request: Request): boolean {
  const site = request.headers.get('sec-fetch-site');
  if (site !== null) return site === 'same-origin';
  const origin = request.headers.get('origin');
  return origin !== null && new URL(origin).host === request.headers.get('host');
}
