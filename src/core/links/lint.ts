import type { Finding, LintInput } from './findings';
import { lintDestination, lintLength } from './lint_destination';
import { lintValues } from './lint_values';

/** Everything about a link that will not do what its author thinks, errors first. */
export function lintLink(input: LintInput): Finding[] {
  const found = [...lintDestination(input), ...lintValues(input), ...lintLength(input)];
  return [
    ...found.filter(({ severity }) => severity === 'error'),
    ...found.filter(({ severity }) => severity !== 'error'),
  ];
}

/** Whether an address is one of a tracking host, whatever is wrong with the rest of it. */
export const isOwnAddress = (address: string, origins: readonly string[]): boolean =>
  URL.canParse(address) && origins.includes(new URL(address).origin);

export { takeApart } from './lint_destination';
