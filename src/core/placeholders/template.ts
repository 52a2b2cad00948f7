import { parseTemplate } from 'url-template';
import { encodeValue } from './encode';

/** A checked RFC 6570 template, parsed once and expanded often. */
export interface Template {
  readonly text: string;
  readonly names: readonly string[];
  /** A name without a value vanishes; an empty value stays as an empty value (RFC 6570 §3.2.1). */
  expand(values: Readonly<Record<string, string>>): string;
}

export type TemplateResult = { ok: true; template: Template } | { ok: false; reason: string };

const VARIABLE = /^((?:[A-Za-z0-9_]|%[0-9A-Fa-f]{2})(?:\.?(?:[A-Za-z0-9_]|%[0-9A-Fa-f]{2}))*)(\*|:[1-9]\d{0,3})?$/;
const OPERATORS = '+#./;?&';
/** Reserved by RFC 6570 §2.2 for extensions. */
const RESERVED_OPERATORS = '=,!@|';

/**
 * Parses a template of RFC 6570 (all operators, modifiers included).
 * @param known names that may stand in it; an unknown one is refused when it is saved, not when it is used.
 */
export function compileTemplate(text: string, known: readonly string[]): TemplateResult {
  const names: string[] = [];
  let at = 0;
  while (at < text.length) {
    const open = text.indexOf('{', at);
    const stray = text.slice(at, open < 0 ? undefined : open).indexOf('}');
    if (stray >= 0) return { ok: false, reason: `The "}" at position ${at + stray + 1} closes nothing.` };
    if (open < 0) break;
    const close = text.indexOf('}', open);
    if (close < 0) return { ok: false, reason: `The "{" at position ${open + 1} is never closed.` };
    const inner = text.slice(open + 1, close);
    const problem = readExpression(inner, known, names);
    if (problem) return { ok: false, reason: problem };
    at = close + 1;
  }
  const simple = simpleExpansion(text, known);
  if (simple) return { ok: true, template: { text, names, expand: simple } };
  const parsed = parseTemplate(text);
  return { ok: true, template: { text, names, expand: (values) => (names.length ? parsed.expand(values) : text) } };
}

/** Templates of plain {name} expressions only, nearly all there are, are expanded by joining their pieces. */
function simpleExpansion(
  text: string,
  known: readonly string[],
): ((values: Readonly<Record<string, string>>) => string) | undefined {
  const pieces = text.split(/\{(\w+)\}/);
  if (pieces.some((piece, i) => i % 2 === 0 && /[{}]|[^\x21-\x7e]|%(?![0-9A-Fa-f]{2})|["<>\\^`|]/.test(piece)))
    return undefined;
  // Objects are read quicker by a name of theirs than by the same text cut out of another.
  const names = pieces.map((piece) => known.find((name) => name === piece) ?? piece);
  return (values) => {
    let expanded = pieces[0] ?? '';
    for (let i = 1; i < pieces.length; i += 2) {
      const value = values[names[i] ?? ''];
      if (value !== undefined) expanded += encodeValue(value);
      expanded += pieces[i + 1] ?? '';
    }
    return expanded;
  };
}

function readExpression(inner: string, known: readonly string[], names: string[]): string | undefined {
  const first = inner.charAt(0);
  if (first !== '' && RESERVED_OPERATORS.includes(first))
    return `"{${inner}}": RFC 6570 reserves the operator "${first}".`;
  const list = first !== '' && OPERATORS.includes(first) ? inner.slice(1) : inner;
  for (const variable of list.split(',')) {
    const name = VARIABLE.exec(variable)?.[1];
    if (name === undefined) return `"{${inner}}" is not a placeholder of the form {click_id}.`;
    if (!known.includes(name)) return `"{${name}}" is not a value Brivet can fill. Known are: ${known.join(', ')}.`;
    names.push(name);
  }
  return undefined;
}
