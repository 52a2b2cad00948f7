/** The conversions that are ticked in the list on the page. */
export const ticked = (): number[] =>
  [...document.querySelectorAll<HTMLInputElement>('input[name="chosen"]:checked')].map(({ value }) => Number(value));
