import { type IncomingMessage, type ServerResponse, createServer } from 'node:http';
import { ads, sendVisitors } from './ads';
import { call, exchange } from './exchange';
import { desk, deskWork, order, shopPage } from './shop';
import { type Asked, type Said, readForm, say } from './web';

/** The outsiders of the demonstration, behind one port: a shop with its back office, a telephone exchange, an ad platform. */
const DOORS: Readonly<Record<string, (asked: Asked) => Said | Promise<Said>>> = {
  'POST /order': order,
  'GET /desk': () => desk(),
  'POST /desk': deskWork,
  'GET /exchange': () => exchange(),
  'POST /exchange': call,
  'GET /ads': () => ads(),
  'POST /ads': sendVisitors,
};

async function answer(request: IncomingMessage, response: ServerResponse): Promise<void> {
  const url = new URL(request.url ?? '/', 'http://shop.invalid');
  if (url.pathname === '/healthz') return void response.end('{"ok":true,"service":"standins"}');
  const { method = 'GET' } = request;
  const form = method === 'POST' ? await readForm(request) : new URLSearchParams();
  const door = DOORS[`${method} ${url.pathname}`] ?? shopPage;
  say(response, await door({ method, url, form, cookie: request.headers.cookie ?? '' }));
}

const port = Number(process.env.BRIVET_STANDINS_PORT ?? 3200);
const server = createServer(
  (request, response) =>
    void answer(request, response).catch((error: unknown) => {
      console.error(error);
      response.writeHead(500).end('It stumbled.');
    }),
);
server.listen(port);
for (const signal of ['SIGTERM', 'SIGINT'] as const)
  process.on(signal, () => {
    server.close(() => process.exit(0));
    server.closeAllConnections();
  });
