import fc from 'fast-check';
import { IncomingMessage } from 'node:http';
import { Socket } from 'node:net';
import { expect, test } from 'vitest';
import { visitHeaders } from './headers';

const NAMES = Object.keys(visitHeaders([]));
const anyCase = (name: string): fc.Arbitrary<string> =>
  fc
    .array(fc.boolean(), { minLength: name.length, maxLength: name.length })
    .map((upper) => [...name].map((sign, i) => (upper[i] ? sign.toUpperCase() : sign)).join(''));
const names = fc.oneof(
  fc.constantFrom(...NAMES).chain(anyCase),
  fc.constantFrom('Accept', 'Host', 'x-Moy', 'Cookies', 'purposE2', 'Sec-Fetch-Dest', '__proto__', 'constructor'),
);

test('headers are read as node:http reads them, in any case and any number', () => {
  fc.assert(
    fc.property(fc.array(fc.tuple(names, fc.string({ unit: 'grapheme-ascii' })), { maxLength: 40 }), (pairs) => {
      const raw = pairs.flat();
      const request = new IncomingMessage(new Socket());
      // What node:http itself calls when a request has come.
      Reflect.apply(Reflect.get(request, '_addHeaderLines'), request, [raw, raw.length]);
      expect(visitHeaders(raw)).toEqual(Object.fromEntries(NAMES.map((name) => [name, request.headers[name]])));
    }),
  );
});
