import { expect, test } from 'vitest';
import { CARRIED } from '../placeholders/names';
import { check } from '../schema/problems';
import { SOURCE_FORMAT, examplesOf, namesOf, sourceFileSchema, sourceSchema, valuesOf } from './schema';
import { SHIPPED_SOURCES } from './shipped';

test.each(SHIPPED_SOURCES)('$name goes into a file and comes back the same', (preset) => {
  const file = { $schema: '/schemas/source.json', format: SOURCE_FORMAT, version: 1, ...preset };
  const read = check(sourceFileSchema, JSON.parse(JSON.stringify(file)));
  expect(read).toEqual({ ok: true, value: file });
});

test.each(SHIPPED_SOURCES)('every placeholder of $name has its value, and each has an example', (preset) => {
  const values = valuesOf(preset);
  const texts = Object.values(values).flatMap((value) => {
    if (value.kind === 'source') return [value.text];
    return value.kind === 'composite' ? value.parts.map(({ text }) => text) : [];
  });
  expect(texts.toSorted()).toEqual(preset.tokens.map(({ token }) => token).toSorted());
  expect(Object.keys(examplesOf(preset)).toSorted()).toEqual(texts.toSorted());
  // One that differs on every click would make groups of one click each.
  for (const { token, unique } of preset.tokens) {
    const [slot = ''] = Object.entries(values).find(([, value]) => 'text' in value && value.text === token) ?? [];
    if (unique) expect(slot).not.toMatch(/^sub/);
  }
});

test('a name that is the value’s own is not kept, the others are those that links write', () => {
  const [preset] = SHIPPED_SOURCES;
  if (!preset) throw new Error('There are sources to begin with.');
  expect(namesOf(preset)).toEqual({ sub1: 'keyword', sub3: 'adgroup' });
  expect(namesOf({ ...preset, values: { sub1: { parameter: 'sub1', value: { kind: 'source', text: 'x' } } } })).toEqual(
    {},
  );
  expect(Object.keys(valuesOf(preset)).every((slot) => (CARRIED as readonly string[]).includes(slot))).toBe(true);
});

test('what a file of sources may not have is refused where it stands', () => {
  const base = { name: 'X', paste: '', tokens: [], values: {}, postback: '' };
  const problems = (more: object): Record<string, string> => {
    const checked = check(sourceSchema, { ...base, ...more });
    return checked.ok ? {} : Object.fromEntries(checked.problems.map(({ field, reason }) => [field, reason]));
  };
  const text = { kind: 'source', text: '[A]' };
  expect(problems({})).toEqual({});
  expect(
    problems({ values: { sub1: { parameter: 'kw', value: text }, sub2: { parameter: 'kw', value: text } } }),
  ).toEqual({ values: 'The parameter "kw" stands for two values.' });
  expect(Object.keys(problems({ values: { sub9: { value: text } } }))).toEqual(['values.sub9']);
  expect(Object.keys(problems({ tokens: [{ token: '[A]', meaning: '' }] }))).toEqual(['tokens.0.meaning']);
  expect(Object.keys(problems({ tokens: ['[A]', '[A]'].map((token) => ({ token, meaning: 'a' })) }))).toEqual([
    'tokens.1',
  ]);
  expect(problems({ postback: 'ftp://x.example/{pcid}' })).toEqual({
    postback: 'An outbound postback begins with https:// (or http://).',
  });
  expect(problems({ postback: 'https://x.example/{nobody}' }).postback).toContain('nobody');
  expect(check(sourceFileSchema, { ...base, format: 'something-else', version: 2 })).toMatchObject({
    ok: false,
    problems: [{ field: 'format' }, { field: 'version' }],
  });
});
