import fc from 'fast-check';
import { IncomingMessage, createServer } from 'node:http';
import { type AddressInfo, Socket, connect } from 'node:net';
import { expect, test } from 'vitest';
import { EdgeRequest } from './headers';

/** As node:http makes one when a request has come. */
function received<R extends IncomingMessage>(Request: new (socket: Socket) => R, raw: string[]): R {
  const request = new Request(new Socket());
  const take = Reflect.get<object, string>(request, '_addHeaderLines') as (raw: string[], count: number) => void;
  Reflect.apply(take, request, [raw, raw.length]);
  return request;
}
const NAMES = Object.keys(received(EdgeRequest, []).headers);
const anyCase = (name: string): fc.Arbitrary<string> =>
  fc
    .array(fc.boolean(), { minLength: name.length, maxLength: name.length })
    .map((upper) => [...name].map((sign, i) => (upper[i] ? sign.toUpperCase() : sign)).join(''));
const names = fc.oneof(
  fc.constantFrom(...NAMES).chain(anyCase),
  fc.constantFrom('Accept', 'Hosts', 'x-Moy', 'Cookies', 'purposE2', 'Sec-Fetch-Dest', '__proto__', 'constructor'),
);

test('headers are read as node:http reads them, in any case and any number', () => {
  fc.assert(
    fc.property(fc.array(fc.tuple(names, fc.string({ unit: 'grapheme-ascii' })), { maxLength: 40 }), (pairs) => {
      const raw = pairs.flat();
      const { headers } = received(IncomingMessage, [...raw]);
      expect(received(EdgeRequest, raw).headers).toEqual(
        Object.fromEntries(NAMES.map((name) => [name, headers[name]])),
      );
    }),
  );
});

/** What a server on a class of requests says to a text as it stands, on a connection of its own. */
async function said(Request: typeof IncomingMessage, text: string): Promise<string> {
  const server = createServer({ IncomingMessage: Request, keepAliveTimeout: 1 }, (_, response) => {
    response.sendDate = false;
    response.end('well');
  });
  await new Promise<void>((resolve) => server.listen(0, resolve));
  const socket = connect((server.address() as AddressInfo).port);
  let all = '';
  socket.on('data', (chunk: Buffer) => (all += chunk.toString()));
  const closed = new Promise((resolve) => socket.once('close', resolve));
  socket.end(text);
  await closed;
  server.close();
  return all;
}

test.each([
  'GET / HTTP/1.1\r\nHost: go.larkmoor.example\r\n\r\n',
  'GET / HTTP/1.1\r\n\r\n',
  'GET / HTTP/1.0\r\n\r\n',
  'GET / HTTP/1.0\r\nTE: chunked\r\nConnection: keep-alive\r\n\r\n',
  'POST / HTTP/1.1\r\nHost: x\r\nExpect: 100-continue\r\nContent-Length: 2\r\n\r\nab',
  'GET / HTTP/1.1\r\nHost: x\r\nExpect: tea\r\n\r\n',
  'GET / HTTP/1.1\r\nHost: x\r\nUpgrade: tea\r\nConnection: upgrade\r\n\r\n',
])('a server on them answers as any other: %j', async (text) => {
  const usual = await said(IncomingMessage, text);
  expect(usual).toMatch(/^HTTP\/1\.1 /);
  expect(await said(EdgeRequest, text)).toBe(usual);
});
