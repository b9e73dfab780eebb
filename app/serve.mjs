// The built application behind Node's own server: adapter-node's handler with the headers that every answer needs,
// static files included (hooks do not reach those). PORT and HOST as usual; prints the address when it listens.
import { createServer } from 'node:http';
import { isIP } from 'node:net';
import { hostname } from 'node:os';
import { fileURLToPath } from 'node:url';

// The limit of a body is that of each route, which says so in words (src/lib/server); the adapter's own only cuts it off.
process.env.BODY_SIZE_LIMIT ??= 'Infinity';
process.env.ULVEX_WORKER ??= fileURLToPath(new URL('./build/compute-worker.mjs', import.meta.url));
const { handler } = await import('./build/handler.js');

const HEADERS = {
  'Cross-Origin-Opener-Policy': 'same-origin',
  'Cross-Origin-Embedder-Policy': 'require-corp',
  'Cross-Origin-Resource-Policy': 'same-origin',
  'X-Content-Type-Options': 'nosniff',
  'Referrer-Policy': 'no-referrer',
  'Permissions-Policy':
    'camera=(), microphone=(), geolocation=(), payment=(), usb=(), serial=(), bluetooth=(), display-capture=(), midi=()',
};

const port = Number(process.env.PORT ?? 4173);
const host = process.env.HOST ?? '127.0.0.1';
// A page of another place can have its own name point here; it does not know the names that are meant.
const meant = new Set(
  ['localhost', hostname(), host, ...(process.env.ULVEX_HOSTS ?? '').split(',')].map((name) =>
    name.trim().toLowerCase(),
  ),
);
const isMeant = (name = '') => {
  const bare = name
    .toLowerCase()
    .replace(/:\d+$/, '')
    .replace(/^\[(.*)\]$/, '$1');
  return isIP(bare) > 0 || meant.has(bare);
};

const server = createServer((request, response) => {
  for (const [name, value] of Object.entries(HEADERS)) response.setHeader(name, value);
  if (!isMeant(request.headers.host)) {
    response.statusCode = 421;
    response.end('This name is not one of this server. Name it in ULVEX_HOSTS to allow it.\n');
    return;
  }
  handler(request, response, () => {
    response.statusCode = 404;
    response.end('Not found');
  });
});
// Slow headers and idle connections are dropped; slow bodies are refused by the routes with a reason.
server.headersTimeout = 10_000;
server.requestTimeout = 60_000;
server.on('error', (error) => {
  const taken = error.code === 'EADDRINUSE';
  console.error(taken ? `Port ${port} is taken; choose another one with PORT=… npm run demo` : error.message);
  process.exit(1);
});
server.listen(port, host, () => {
  console.log(`Ulvex is ready at http://${host === '127.0.0.1' ? 'localhost' : host}:${server.address().port}/`);
});
// Work under way is told that the server ends (src/lib/server/compute.ts) and answers; who does not take that in is cut off.
const LAST_WORDS = 3000;
for (const signal of ['SIGINT', 'SIGTERM'])
  process.once(signal, () => {
    server.close(() => process.exit(0));
    server.closeIdleConnections();
    setTimeout(() => server.closeAllConnections(), LAST_WORDS).unref();
    setTimeout(() => process.exit(0), 2 * LAST_WORDS).unref();
  });
