import { readFileSync } from 'node:fs';
import geoip from 'geoip-country';
import { AddressSet, readRanges } from '@/core/clicks/addresses';

const named = new Map<string, AddressSet>();

/** Ranges that somebody knows better, or that no register has: "192.0.2.0/24,NL" a line. */
function ownRanges(file: string | undefined): Map<string, AddressSet> {
  if (!file || named.size > 0) return named;
  const byCountry = new Map<string, string[]>();
  for (const line of readFileSync(file, 'utf8').split(/\r?\n/)) {
    const [range, country] = line.split(',').map((part) => part.trim());
    if (range && country && /^[A-Z]{2}$/.test(country))
      byCountry.set(country, [...(byCountry.get(country) ?? []), range]);
  }
  for (const [country, ranges] of byCountry) named.set(country, readRanges(ranges.join('\n')).set);
  return named;
}

const MOST_KEPT = 20_000;
const known = new Map<string, string>();

/**
 * The country of an address (ISO 3166-1), empty when it is not known. A file named by BRIVET_COUNTRIES goes before the
 * data that came with the geoip-country package.
 */
export function countryOf(address: string | null): string {
  if (!address) return '';
  let country = known.get(address);
  if (country === undefined) {
    country = lookUp(address);
    if (known.size >= MOST_KEPT) known.clear();
    known.set(address, country);
  }
  return country;
}

function lookUp(address: string): string {
  for (const [country, set] of ownRanges(process.env.BRIVET_COUNTRIES)) if (set.has(address)) return country;
  return geoip.lookup(address)?.country ?? '';
}
