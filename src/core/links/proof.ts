import { looksUnfilled } from '../placeholders/unfilled';
import { type Carried, type ClickValues, CARRIED, VALUE_SLOTS, type ValueSlot } from '../placeholders/names';
import { type Choice, type Route, chooseDestination } from '../routing/route';
import type { Instant } from '../time/days';
import { type LinkParts, composeLink, readNames, readQuery, redirects } from './parts';
import { type SlotValue, splitComposite, layoutOf } from './values';

export interface Proof {
  /** The address once the source has filled its placeholders with the examples. */
  readonly clicked: string;
  /** What is recorded, by slot. */
  readonly recorded: Readonly<Partial<Record<Carried, string>>>;
  /** Parts of composite values, as reports will show them: "sub1.keyword". */
  readonly split: Readonly<Record<string, string>>;
  readonly choice: Choice;
  /** Slots that would arrive unfilled with these examples. */
  readonly unfilled: readonly ValueSlot[];
}

/** Example texts, by what they stand for: a source's placeholder as it is written, or a slot left to the partner. */
export type Examples = Readonly<Record<string, string>>;

/** A click ID that is plainly an example. */
export const EXAMPLE_CLICK_ID = '01EXAMPLE00000000000000000';

/** What the source makes of a value: each placeholder replaced by its example, the rest as it stands. */
function filled(slot: Carried, value: SlotValue, examples: Examples): SlotValue {
  if (value.kind === 'partner') return examples[slot] ? { kind: 'fixed', text: examples[slot] } : value;
  if (value.kind === 'composite')
    return {
      ...value,
      parts: value.parts.map((part) => (part.kind === 'source' ? { ...part, ...sourced(part.text, examples) } : part)),
    };
  return value.kind === 'source' ? sourced(value.text, examples) : value;
}

const sourced = (text: string, examples: Examples): { kind: 'fixed' | 'source'; text: string } => {
  const example = examples[text];
  if (example) return { kind: 'fixed', text: example };
  // Several placeholders in one text: each that has an example is filled.
  const whole = Object.entries(examples).reduce(
    (done, [token, each]) => (token !== '' && each !== '' ? done.replaceAll(token, each) : done),
    text,
  );
  return whole === text || looksUnfilled(whole) ? { kind: 'source', text: whole } : { kind: 'fixed', text: whole };
};

/**
 * Follows a link from the click to its landing page with example values, without a network. It reads the composed
 * link back as the tracking host would and chooses with the same function, so it shows what will happen. A link
 * without a redirect is its own landing page; the page tag reads the same parameters there.
 */
export function proveLink(parts: LinkParts, route: Route, codes: ClickValues, examples: Examples, now: Instant): Proof {
  const values = Object.fromEntries(
    CARRIED.flatMap((slot) => {
      const value = parts.values[slot];
      return value ? [[slot, filled(slot, value, examples)]] : [];
    }),
  );
  const clicked = composeLink({ ...parts, values });
  const query = clicked.split('?').slice(1).join('?').replace(/#.*$/s, '');
  const arrival = readQuery(query, readNames(parts.names));
  const known = { ...codes, ...arrival.slots, click_id: EXAMPLE_CLICK_ID, link_code: parts.code };
  const choice: Choice = redirects(parts.kind)
    ? chooseDestination(route, { values: known, to: arrival.to, now })
    : { via: 'deep_link', address: clicked, replaced: [] };
  return {
    clicked,
    recorded: { ...arrival.slots, ...(arrival.cost !== undefined && { cost: arrival.cost }) },
    split: splitRecorded(parts.values, arrival.slots),
    choice,
    unfilled: VALUE_SLOTS.filter((slot) => looksUnfilled(arrival.slots[slot] ?? '')),
  };
}

/** The parts of recorded composite values, by "slot.part". */
export function splitRecorded(
  values: Partial<Record<Carried, SlotValue>>,
  recorded: Partial<Record<string, string>>,
): Record<string, string> {
  const split: Record<string, string> = {};
  for (const slot of CARRIED) {
    const layout = layoutOf(values[slot]);
    const text = recorded[slot];
    if (!layout || text === undefined) continue;
    for (const [i, piece] of splitComposite(text, layout).entries()) split[`${slot}.${layout.names[i]}`] = piece;
  }
  return split;
}
