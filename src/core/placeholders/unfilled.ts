import { VALUE_SLOTS, type ValueSlot } from './names';

/**
 * Forms in which ad platforms write their placeholders. A value that still looks like one when the click
 * arrives was never filled. Plain text in square brackets with spaces is left alone.
 */
const LITERAL_FORMS = [
  /\{\{[^{}]+\}\}/,
  /\$\{[^{}]+\}/,
  /\{[A-Za-z_][\w.:-]*\}/,
  /\[[A-Z][A-Z0-9_]*\]/,
  /%%[^%\s]+%%/,
  /(?:^|\W)__[A-Z0-9_]+__(?:$|\W)/,
  /##[^#\s]+##/,
];

/** No form is without one of these, and most values are without all of them. */
const ANY_FORM = /[{[%_#]/;

export const looksUnfilled = (value: string): boolean =>
  ANY_FORM.test(value) && LITERAL_FORMS.some((form) => form.test(value));

/** The slots whose placeholder arrived literally, e.g. ["sub1", "pcid"]. */
export const unfilledSlots = (values: Partial<Record<ValueSlot, string>>): ValueSlot[] =>
  VALUE_SLOTS.filter((slot) => {
    const value = values[slot];
    return value !== undefined && looksUnfilled(value);
  });
