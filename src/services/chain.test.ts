import { type Server, createServer } from 'node:http';
import type { AddressInfo } from 'node:net';
import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import { World } from '../../tests/support/world';
import { MOST_HOPS, followChain, isClosedAddress } from './chain';
import { checkDestinations, listDestinations } from './destinations';
import { issueLink } from './links';
import { today } from './today';

let server: Server;
let here: string;
let asked: string[] = [];
let broken = true;

/** The made-up shop's pages are on this machine, as in the demo. */
const locationOf = (address: string): string =>
  address.startsWith('https://larkmoor.example/') ? address.replace('https://larkmoor.example', here) : address;

beforeAll(async () => {
  server = createServer((request, response) => {
    const path = request.url ?? '';
    asked.push(path);
    const redirect = (to: string): void => void response.writeHead(302, { Location: to }).end();
    if (path === '/hop/1') return redirect('/hop/2?a=1');
    if (path.startsWith('/hop/2')) return redirect('https://larkmoor.example/fine');
    if (path === '/circle') return redirect('/circle');
    if (path.startsWith('/endless')) return redirect(`${path}x`);
    if (path === '/inside') return redirect('http://169.254.169.254/latest');
    if (path === '/script') return redirect('javascript:alert(1)');
    if (path === '/slow') return;
    if (path === '/sometimes') return void response.writeHead(broken ? 500 : 200).end();
    response.writeHead(path === '/gone' ? 404 : 200).end('a body that nobody reads');
  });
  await new Promise<void>((resolve) => server.listen(0, resolve));
  here = `http://127.0.0.1:${(server.address() as AddressInfo).port}`;
});
afterAll(() => {
  server.closeAllConnections();
  server.close();
});

/** Only what never answers is given little time: a busy machine answers late. */
const follow = (path: string) =>
  followChain(`https://larkmoor.example${path}`, { locationOf, timeoutMs: path === '/slow' ? 400 : 10_000 });

describe('following a page', () => {
  test('goes hop by hop, with the status of each', async () => {
    expect((await follow('/hop/1')).map(({ address, status, problem }) => [address, status, problem])).toEqual([
      ['https://larkmoor.example/hop/1', 302, undefined],
      ['https://larkmoor.example/hop/2?a=1', 302, undefined],
      ['https://larkmoor.example/fine', 200, undefined],
    ]);
  });

  test.each<[string, number | undefined, string]>([
    ['/gone', 404, 'not there (404)'],
    ['/circle', 302, 'in a circle'],
    ['/script', 302, 'not a web address'],
    ['/slow', undefined, 'No answer within 0.4 s'],
  ])('%s ends with %s: %s', async (path, status, problem) => {
    const last = (await follow(path)).at(-1);
    expect(last).toMatchObject({ problem: expect.stringContaining(problem) });
    expect(last?.status).toBe(status);
  });

  test('ends after ten hops', async () => {
    const hops = await follow('/endless');
    expect(hops).toHaveLength(MOST_HOPS);
    expect(hops.at(-1)?.problem).toContain('more than 10 times');
  });

  test('never goes inside a network, by address, by redirect or by name', async () => {
    asked = [];
    for (const address of [
      `${here}/fine`,
      `http://localhost:${new URL(here).port}/fine`,
      'http://[::1]/',
      'http://2130706433/',
      'http://[::ffff:7f00:1]/',
    ])
      expect((await followChain(address, { timeoutMs: 10_000 })).at(-1)?.problem, address).toMatch(
        /inside a network|connection failed|no address/,
      );
    expect(asked).toEqual([]);
    expect((await follow('/inside')).at(-1)?.problem).toContain('169.254.169.254');
    expect(
      [
        '10.1.2.3',
        '172.31.0.1',
        '192.168.1.1',
        '100.64.0.1',
        '0.0.0.0',
        'fe80::1',
        'fd00::1',
        '::ffff:10.0.0.1',
        '::ffff:7f00:1',
      ].every(isClosedAddress),
    ).toBe(true);
    expect(['8.8.8.8', '172.32.0.1', '2a00:1450::1'].some(isClosedAddress)).toBe(false);
  });
});

test('pages that fail come into Today and leave it again by themselves', async () => {
  using world = new World();
  const { partnerId, channelId, offerId } = world.link;
  for (const to of ['https://larkmoor.example/sometimes', 'https://larkmoor.example/fine'])
    issueLink(world.stores, world.owner, { partnerId, channelId, offerId, to, kind: 'deep' });
  const check = () => checkDestinations(world.stores, world.programId, { locationOf, timeoutMs: 10_000 });
  expect(await check()).toBe(3);
  expect(await check()).toBe(0);
  const failing = () => listDestinations(world.stores, world.owner, { failing: true }, { limit: 9, offset: 0 }).rows;
  expect(failing()).toMatchObject([
    { address: 'https://larkmoor.example/sometimes', status: 500, links: 1, failingSince: world.clock },
  ]);
  expect(today(world.stores, world.owner)).toMatchObject([
    {
      urgency: 'trouble',
      title: 'larkmoor.example/sometimes does not answer well',
      why: 'The server answers with an error (500). 1 link leads there.',
    },
  ]);
  broken = false;
  world.pass(0.1);
  expect(await check()).toBe(1);
  expect([failing(), today(world.stores, world.owner)]).toEqual([[], []]);
  world.pass(1.1);
  expect(await check()).toBe(3);
});
