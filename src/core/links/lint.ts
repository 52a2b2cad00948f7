import type { Finding, LintInput } from './findings';
import { lintDestination, lintLength } from './lint_destination';
import { lintValues } from './lint_values';
import { type Known, parseLink } from './parts';
import type { Change } from './findings';

/** Everything about a link that will not do what its author thinks, errors first. */
export function lintLink(input: LintInput): Finding[] {
  const found = [...lintDestination(input), ...lintValues(input), ...lintLength(input)];
  return [
    ...found.filter(({ severity }) => severity === 'error'),
    ...found.filter(({ severity }) => severity !== 'error'),
  ];
}

/**
 * Recognises a link of ours pasted where a page belongs, and takes it apart instead of nesting it.
 * @returns the code it bears and what the draft becomes, or undefined for any other address
 */
export function takeApart(
  pasted: string,
  origin: string,
  known: Known = {},
): { code: string; change: Change } | undefined {
  const parts = parseLink(pasted, known);
  if (!parts || parts.origin !== origin) return undefined;
  const values = parts.values;
  return {
    code: parts.code,
    change: {
      to: parts.to ?? '',
      kind: parts.to ? 'deep' : 'referral',
      ...(Object.keys(values).length > 0 && { values }),
    },
  };
}

/** Whether an address is one of the tracking host, whatever is wrong with the rest of it. */
export const isOwnAddress = (address: string, origin: string): boolean =>
  URL.canParse(address) && new URL(address).origin === origin;
