/**
 * In the demo, made-up hosts have no address: a visitor is sent to the stand-in on this machine instead.
 * What is recorded stays the address as it is.
 * @param hosts "larkmoor.example=http://localhost:3200", separated by spaces; unset in real use
 */
export function standInLocations(hosts: string | undefined): ((address: string) => string) | undefined {
  if (!hosts) return undefined;
  const origins = new Map(
    hosts.split(' ').map((pair) => [pair.slice(0, pair.indexOf('=')), pair.slice(pair.indexOf('=') + 1)]),
  );
  return (address) => {
    const url = new URL(address);
    const origin = origins.get(url.host);
    return origin === undefined ? address : origin + url.href.slice(url.origin.length);
  };
}
