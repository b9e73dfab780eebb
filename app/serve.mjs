// The built application behind Node's own server: adapter-node's handler with the headers that every answer needs,
// static files included (hooks do not reach those). PORT and HOST as usual; prints the address when it listens.
import { createServer } from 'node:http';
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
};

const port = Number(process.env.PORT ?? 4173);
const host = process.env.HOST ?? '127.0.0.1';
const server = createServer((request, response) => {
  for (const [name, value] of Object.entries(HEADERS)) response.setHeader(name, value);
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
  console.log(
    `Ulvex is ready at http://${host === '127.0.0.1' ? 'localhost' : host}:${server.address().port}/`,
  );
});
for (const signal of ['SIGINT', 'SIGTERM']) process.on(signal, () => server.close(() => process.exit(0)));
