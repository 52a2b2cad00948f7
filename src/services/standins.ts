/** "larkmoor.example=http://localhost:3200", separated by spaces: made-up hosts and where their stand-ins are. */
const pairsOf = (hosts: string | undefined): [host: string, origin: string][] =>
  (hosts ?? '')
    .split(' ')
    .filter((pair) => pair !== '')
    .map((pair) => [pair.slice(0, pair.indexOf('=')), pair.slice(pair.indexOf('=') + 1)]);

/**
 * In the demo, made-up hosts have no address: a visitor is sent to the stand-in on this machine instead.
 * What is recorded stays the address as it is.
 * @param hosts the variable BRIVET_STANDIN_HOSTS; unset in real use
 */
export function standInLocations(hosts: string | undefined): ((address: string) => string) | undefined {
  if (!hosts) return undefined;
  const origins = new Map(pairsOf(hosts));
  return (address) => {
    const url = URL.canParse(address) ? new URL(address) : undefined;
    const origin = url && origins.get(url.host);
    return url && origin !== undefined ? origin + url.href.slice(url.origin.length) : address;
  };
}

/** The other way round: the made-up address of a page that a stand-in serves from this machine. */
export function madeUpAddresses(hosts: string | undefined): ((address: string) => string) | undefined {
  if (!hosts) return undefined;
  const names = new Map(
    pairsOf(hosts)
      .map(([host, origin]) => [origin, `https://${host}`])
      .reverse() as [string, string][],
  );
  return (address) => {
    const url = URL.canParse(address) ? new URL(address) : undefined;
    const name = url && names.get(url.origin);
    return url && name !== undefined ? name + url.href.slice(url.origin.length) : address;
  };
}
