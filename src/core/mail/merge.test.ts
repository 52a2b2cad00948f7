import fc from 'fast-check';
import { expect, test } from 'vitest';
import { MAIL_NAMES } from '../placeholders/names';
import { check } from '../schema/problems';
import { type MailValues, mailCopySchema, mailTextProblem, mergeMail } from './merge';

const values: fc.Arbitrary<MailValues> = fc.record(
  Object.fromEntries(MAIL_NAMES.map((name) => [name, fc.string({ unit: 'grapheme' })])),
) as unknown as fc.Arbitrary<MailValues>;
const plain = fc.string({ unit: 'grapheme' }).filter((text) => !/[{}]/.test(text));

test('each field becomes its value as it stands, and the text between stays', () => {
  const pieces = fc.array(fc.tuple(plain, fc.constantFrom(...MAIL_NAMES)), { maxLength: 6 });
  fc.assert(
    fc.property(pieces, plain, values, (parts, end, own) => {
      const text = parts.map(([before, name]) => `${before}{${name}}`).join('') + end;
      expect(mailTextProblem(text)).toBeUndefined();
      expect(mergeMail(text, own)).toBe(parts.map(([before, name]) => before + own[name]).join('') + end);
    }),
  );
});

test('a value that looks like a field, or like a pattern, is only a value', () => {
  const own = { ...Object.fromEntries(MAIL_NAMES.map((name) => [name, '{link}$&$1'])) } as MailValues;
  expect(mergeMail(`a {${MAIL_NAMES[0]}} b`, own)).toBe('a {link}$&$1 b');
});

test('unknown fields, fields written for addresses and a text without its link are refused by name', () => {
  for (const [text, words] of [
    ['{nobody}', 'nobody'],
    ['{?link}', 'written for addresses'],
    ['{link:3}', 'written for addresses'],
    ['{link', '{'],
  ] as const)
    expect(mailTextProblem(text)).toContain(words);
  const copy = { name: 'Autumn', subject: 'Hello', text: 'No way in.', offerId: 1 };
  expect(check(mailCopySchema, copy)).toMatchObject({ ok: false, problems: [{ field: 'text' }] });
  expect(check(mailCopySchema, { ...copy, text: 'Here: {link}' })).toMatchObject({ ok: true, value: { to: '' } });
});
