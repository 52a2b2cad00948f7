import { describe, expect, test } from 'vitest';
import { compileTemplate } from './template';
import { unfilledSlots } from './unfilled';

// Variables and expansions of RFC 6570 §3.2, levels 1 to 3.
const values = { var: 'value', hello: 'Hello World!', empty: '', path: '/foo/bar', x: '1024', y: '768' };
const expand = (text: string): string => {
  const result = compileTemplate(text, [...Object.keys(values), 'undef']);
  if (!result.ok) throw new Error(result.reason);
  return result.template.expand(values);
};

describe('RFC 6570 examples', () => {
  test.each([
    ['{var}', 'value'],
    ['{hello}', 'Hello%20World%21'],
    ['{+var}', 'value'],
    ['{+hello}', 'Hello%20World!'],
    ['{+path,x}/here', '/foo/bar,1024/here'],
    ['{#path,x}/here', '#/foo/bar,1024/here'],
    ['X{.var}', 'X.value'],
    ['{/var}', '/value'],
    ['{;x,y}', ';x=1024;y=768'],
    ['{?x,y}', '?x=1024&y=768'],
    ['{+path}/here', '/foo/bar/here'],
    ['here?ref={+path}', 'here?ref=/foo/bar'],
    ['X{#var}', 'X#value'],
    ['X{#hello}', 'X#Hello%20World!'],
    ['map?{x,y}', 'map?1024,768'],
    ['{x,hello,y}', '1024,Hello%20World%21,768'],
    ['{+x,hello,y}', '1024,Hello%20World!,768'],
    ['{#x,hello,y}', '#1024,Hello%20World!,768'],
    ['X{.x,y}', 'X.1024.768'],
    ['{/var,x}/here', '/value/1024/here'],
    ['{;x,y,empty}', ';x=1024;y=768;empty'],
    ['{?x,y,empty}', '?x=1024&y=768&empty='],
    ['?fixed=yes{&x}', '?fixed=yes&x=1024'],
    ['{&x,y,empty}', '&x=1024&y=768&empty='],
    ['{?x,undef}', '?x=1024'],
    ['O{undef}X', 'OX'],
    ['{var:3}', 'val'],
  ])('%s → %s', (template, expected) => expect(expand(template)).toBe(expected));

  test.each(['{var', 'var}', '{}', '{=x}', '{!var}', '{va r}', '{var:0}', '{x,}', '{unknown_name}', '{{x}}'])(
    '%s is refused with a reason',
    (template) => {
      const result = compileTemplate(template, Object.keys(values));
      expect(result.ok).toBe(false);
      expect(!result.ok && result.reason.length).toBeGreaterThan(10);
    },
  );
});

test('placeholders that arrive unfilled are found in whatever form, ordinary text is not', () => {
  expect(
    unfilledSlots({ sub1: '{{keyword}}-exact', sub2: 'ash glaze', sub3: '[CLICK]', sub4: '%%AD%%', pcid: '${x}' }),
  ).toEqual(['sub1', 'sub3', 'sub4', 'pcid']);
  expect(unfilledSlots({ sub1: '[sale] 50% off', sub2: 'a{b', one1: '__init', sub3: '100%' })).toEqual([]);
});
