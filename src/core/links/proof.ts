import { looksUnfilled } from '../placeholders/unfilled';
import { type ClickValues, type ValueSlot, VALUE_SLOTS } from '../placeholders/names';
import { type Choice, type Route, chooseDestination } from '../routing/route';
import { type LinkParts, composeLink, readQuery } from './parts';

export interface Hop {
  readonly what: 'source_fills' | 'click_recorded' | 'redirect' | 'landing';
  readonly address?: string;
  readonly values?: Readonly<Record<string, string>>;
}

export interface Proof {
  readonly hops: readonly Hop[];
  readonly choice: Choice;
  /** Slots that would arrive unfilled with these examples. */
  readonly unfilled: readonly ValueSlot[];
}

/** A click ID that is plainly an example. */
export const EXAMPLE_CLICK_ID = '01EXAMPLE00000000000000000';

/**
 * Follows a link from the click to its landing page with example values, without a network. It reads the composed
 * link back as the tracking host would and chooses with the same function, so it shows what will happen.
 * @param examples by slot: what the source would fill in; without one the placeholder stays as it stands
 */
export function proveLink(
  parts: LinkParts,
  route: Route,
  codes: ClickValues,
  examples: Partial<Record<ValueSlot, string>>,
): Proof {
  const slots: LinkParts['slots'] = Object.fromEntries(
    VALUE_SLOTS.flatMap((slot) => {
      const value = parts.slots[slot];
      if (!value) return [];
      const example = value.kind === 'source' ? examples[slot] : undefined;
      return [[slot, example ? { kind: 'fixed' as const, text: example } : value]];
    }),
  );
  const clicked = composeLink({ ...parts, slots });
  const arrival = readQuery(clicked.split('?').slice(1).join('?'));
  const values = { ...codes, ...arrival.slots, click_id: EXAMPLE_CLICK_ID, link_code: parts.code };
  const choice = chooseDestination(route, values, arrival.to);
  return {
    choice,
    unfilled: VALUE_SLOTS.filter((slot) => looksUnfilled(arrival.slots[slot] ?? '')),
    hops: [
      { what: 'source_fills', address: clicked },
      { what: 'click_recorded', values: { ...arrival.slots } },
      { what: 'redirect' },
      { what: 'landing', address: choice.address },
    ],
  };
}
