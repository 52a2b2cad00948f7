/** Stations of the Line with their keys, and what stands right of it. */
export const STATIONS = [
  { id: 'today', name: 'Today', path: '/today', key: '0' },
  { id: 'links', name: 'Links', path: '/links', key: '1' },
  { id: 'clicks', name: 'Clicks', path: '/clicks', key: '2' },
  { id: 'conversions', name: 'Conversions', path: '/conversions', key: '3' },
  { id: 'commissions', name: 'Commissions', path: '/commissions', key: '4' },
  { id: 'payouts', name: 'Payouts', path: '/payouts', key: '5' },
  { id: 'partners', name: 'Partners', path: '/partners', key: '6' },
  { id: 'setup', name: 'Setup', path: '/setup', key: '7' },
] as const;
export type StationId = (typeof STATIONS)[number]['id'];

/** Only what is in the scope goes along from station to station. */
export const SCOPE_PARAMETERS = ['from', 'to', 'partner', 'channel', 'offer'] as const;

export function scopeQuery(params: URLSearchParams): string {
  const kept = new URLSearchParams();
  for (const name of SCOPE_PARAMETERS) {
    const value = params.get(name);
    if (value) kept.set(name, value);
  }
  const text = kept.toString();
  return text ? `?${text}` : '';
}
