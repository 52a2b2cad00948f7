import { describe, expect, test } from 'vitest';
import { matchColumns } from '../files/columns';
import { mailTextProblem, mergeMail } from '../mail/merge';
import { namesOf, sourceFileSchema, sourceSchema } from '../sources/schema';
import { SHIPPED_SOURCES } from '../sources/shipped';
import { check } from '../schema/problems';
import { LINK_COLUMNS, cellValue, lineFields, shownValue } from './bulk';

const [preset] = SHIPPED_SOURCES;
if (!preset) throw new Error('The shipped sources are gone.');

describe('a line of a file', () => {
  test('is a link: its kind by its page, placeholders kept, "*" left to the partner', () => {
    const line = lineFields(
      {
        destination: ' https://larkmoor.example/ash ',
        sub1: 'autumn',
        sub2: '{{match}}',
        sub3: '*',
        tags: 'paid; nl;',
        utm_source: 'brivet',
        ad: '',
      },
      undefined,
      undefined,
    );
    expect(line).toEqual({
      ...{ kind: 'deep', to: 'https://larkmoor.example/ash', landing: '', alias: '', utmForm: 'short' },
      values: {
        sub1: { kind: 'fixed', text: 'autumn' },
        sub2: { kind: 'source', text: '{{match}}' },
        sub3: { kind: 'partner' },
      },
      ...{ labels: { tags: ['paid', 'nl'] }, utm: { source: 'brivet' } },
    });
    expect(lineFields({}, undefined, undefined).kind).toBe('referral');
    expect(lineFields({ kind: 'Direct' }, undefined, 'manual').kind).toBe('direct');
    expect(lineFields({}, undefined, 'manual').kind).toBe('manual');
  });

  test('begins with what the source’s preset carries; a cell that says the same keeps its layout', () => {
    const line = lineFields({ sub1: 'fixed one', sub2: '{{match}}~{{screen}}' }, preset, undefined);
    expect(line.names).toEqual(namesOf(preset));
    expect(line.values).toMatchObject({
      sub1: { kind: 'fixed', text: 'fixed one' },
      sub2: preset.values.sub2?.value,
      pcid: { kind: 'source', text: '{{cid}}' },
    });
    for (const [slot, { value }] of Object.entries(preset.values))
      expect(lineFields({ [slot]: shownValue(value) }, preset, undefined).values).toMatchObject({ [slot]: value });
    expect(cellValue('50% off', preset)).toEqual({ kind: 'fixed', text: '50% off' });
  });
});

describe('columns of a file', () => {
  test('are known in any spelling, and a stranger is named', () => {
    expect(
      matchColumns(['Partner Code', 'URL', 'sub-id 1', '', 'UTM Source', 'Clicks'], LINK_COLUMNS, ['clicks']),
    ).toEqual({
      ok: true,
      columns: ['partner', 'destination', 'sub1', undefined, 'utm_source', undefined],
    });
    expect(matchColumns(['colour', 'url', 'to'], LINK_COLUMNS)).toMatchObject({
      ok: false,
      problems: [
        { field: 'colour' },
        { field: 'destination', reason: 'Two columns of the file are destination. Leave one.' },
      ],
    });
  });
});

describe('mail copy', () => {
  test('puts each value where its field stands, as it is', () => {
    const values = {
      partner_name: 'Hearth & Glaze',
      partner_code: 'HEARTH',
      channel_name: 'UK letter',
      channel_code: 'UK',
      offer_name: 'Box',
      link: 'https://go.larkmoor.example/a?sub1=x',
    };
    expect(mergeMail('{partner_name}: {link} {link}', values)).toBe(
      'Hearth & Glaze: https://go.larkmoor.example/a?sub1=x https://go.larkmoor.example/a?sub1=x',
    );
    expect(mailTextProblem('Hello {partner_name}, {link}')).toBeUndefined();
    expect(mailTextProblem('{click_id}')).toContain('"{click_id}" is not a value');
    expect(mailTextProblem('{+link}')).toContain('plain');
    expect(mailTextProblem('{link')).toContain('never closed');
  });
});

describe('source presets', () => {
  test('those that ship are sound, and survive their own file', () => {
    for (const each of SHIPPED_SOURCES) {
      expect(check(sourceSchema, each)).toEqual({ ok: true, value: each });
      const file = JSON.parse(JSON.stringify({ format: 'brivet-source', version: 1, ...each }));
      expect(check(sourceFileSchema, file)).toMatchObject({ ok: true, value: each });
    }
  });

  test.each<[object, string, string]>([
    [{ name: '' }, 'name', 'missing'],
    [{ tokens: [{ token: '{{a}}&b', meaning: 'a' }] }, 'tokens.0.token', 'cannot contain "&"'],
    [
      {
        tokens: [
          { token: '{{a}}', meaning: 'a' },
          { token: '{{a}}', meaning: 'b' },
        ],
      },
      'tokens.1',
      'stands twice',
    ],
    [
      { values: { sub1: { parameter: 'pcid', value: { kind: 'fixed', text: 'a' } } } },
      'values.sub1.parameter',
      'meaning of its own',
    ],
    [
      {
        values: {
          sub1: { parameter: 'k', value: { kind: 'partner' } },
          sub2: { parameter: 'k', value: { kind: 'partner' } },
        },
      },
      'values',
      'stands for two values',
    ],
    [
      { values: { sub1: { value: { kind: 'composite', separator: '&', parts: [] } } } },
      'values.sub1.value.separator',
      'one to three of',
    ],
    [{ values: { sub9: { value: { kind: 'partner' } } } }, 'values.sub9', 'not a field'],
    [{ postback: 'https://in.example/?c={clickid}' }, 'postback', '"{clickid}" is not a value'],
    [{ postback: 'ftp://in.example' }, 'postback', 'begins with https'],
  ])('%o is refused by its path', (change, field, reason) => {
    const result = check(sourceSchema, { ...preset, ...change });
    expect(result).toMatchObject({
      ok: false,
      problems: expect.arrayContaining([{ field, reason: expect.stringContaining(reason) }]),
    });
  });
});
