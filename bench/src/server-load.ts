// `npm run bench -- server`: the built server under attack from eight addresses of this machine, and whether it goes on answering: the longest
// time that /api/health took, the most memory of the server with its workers, and how soon a quick request is served.
import { readdirSync, readFileSync } from 'node:fs';
import { request as ask, type IncomingMessage } from 'node:http';
import { connect, type Socket } from 'node:net';
import { loadavg } from 'node:os';
import { join } from 'node:path';
import { startServer } from '../../e2e/src/server.ts';

const ADDRESSES = 8;
const HEALTH_EVERY = 100;

const pause = (ms: number) => new Promise((done) => setTimeout(done, ms));

/** Resident memory of a process and of all below it, MB. */
function residentMb(root: number): number {
  const parents = new Map<number, number>();
  const sizes = new Map<number, number>();
  for (const name of readdirSync('/proc').filter((name) => /^\d+$/.test(name)))
    try {
      const status = readFileSync(join('/proc', name, 'status'), 'utf8');
      parents.set(Number(name), Number(/^PPid:\s+(\d+)/m.exec(status)?.[1]));
      sizes.set(Number(name), Number(/^VmRSS:\s+(\d+)/m.exec(status)?.[1] ?? 0));
    } catch {
      // it has ended meanwhile
    }
  const within = (id: number): boolean => id === root || (parents.has(id) && within(parents.get(id)!));
  return [...sizes].reduce((sum, [id, size]) => sum + (within(id) ? size : 0), 0) / 1024;
}

/** A request from one of the addresses of this machine; its status and its whole text. */
function sent(url: URL, from: number, path: string, body?: string): Promise<{ status: number; text: string }> {
  return new Promise((done, failed) => {
    const outgoing = ask(
      {
        host: url.hostname,
        port: url.port,
        path,
        localAddress: `127.0.0.${from}`,
        method: body === undefined ? 'GET' : 'POST',
        headers: { 'content-type': 'application/json', connection: 'close' },
      },
      (answer: IncomingMessage) => {
        let text = '';
        answer.on('data', (part: Buffer) => (text += part.toString()));
        answer.on('end', () => done({ status: answer.statusCode ?? 0, text }));
        answer.on('error', failed);
      },
    );
    outgoing.on('error', failed);
    outgoing.end(body);
  });
}

/** A connection that is written to by hand. */
function dial(url: URL, index: number): Socket {
  const socket = connect({
    host: url.hostname,
    port: Number(url.port),
    localAddress: `127.0.0.${2 + (index % ADDRESSES)}`,
  });
  socket.on('error', () => {}); // the server may cut it off: that is what is tried
  return socket;
}

const head = (path: string, bytes: number) =>
  `POST ${path} HTTP/1.1\r\nHost: localhost\r\nContent-Type: application/json\r\nContent-Length: ${bytes}\r\n\r\n`;
const post = (path: string, body: string) => head(path, Buffer.byteLength(body)) + body;

/** Attacks, each of which begins and returns what ends it. */
function attacks(url: URL, project: unknown): Readonly<Record<string, () => () => void>> {
  const spot = { measure: 'rms_spot_radius', settings: { field: 'worst' } };
  const heavy = JSON.stringify({
    project,
    measures: Array.from({ length: 100 }, () => ({
      measure: 'rms_spot_radius',
      settings: { field: 'worst', rings: 60, arms: 120 },
    })),
  });
  const values = Array.from({ length: 20_000 }, (_, i) => 13 + i * 1e-5);
  const scan = JSON.stringify({
    project,
    axes: [{ address: 'lenses.tide.surfaces.l1_front.radius', values }],
    measures: [spot],
  });
  const many = (count: number, one: (socket: Socket, index: number) => void) => () => {
    const sockets = Array.from({ length: count }, (_, index) => {
      const socket = dial(url, index);
      one(socket, index);
      return socket;
    });
    return () => sockets.forEach((socket) => socket.destroy());
  };
  const dribble = (socket: Socket, byte: string) => {
    const timer = setInterval(() => socket.write(byte), 500);
    socket.on('close', () => clearInterval(timer));
  };
  return {
    '200 slow bodies': many(200, (socket) => {
      socket.write(`${head('/api/measures', 1_000_000)}{`);
      dribble(socket, ' ');
    }),
    '500 slow heads': many(500, (socket) => {
      socket.write('POST /api/measures HTTP/1.1\r\nHost: localhost\r\nX-A: ');
      dribble(socket, 'a');
    }),
    '200 expensive requests': many(200, (socket) => {
      socket.resume();
      socket.write(post('/api/measures', heavy));
    }),
    '50 dropped scans': many(50, (socket) => {
      socket.write(post('/api/scan', scan));
      socket.once('data', () => socket.destroy());
    }),
    '20 clients that stop reading': many(20, (socket) => {
      socket.write(post('/api/scan', scan));
      socket.once('data', () => socket.pause());
    }),
  };
}

/** Attacks a server for some seconds each way, and prints what it did meanwhile. */
export async function benchServer(seconds: number): Promise<void> {
  const server = await startServer();
  const url = new URL(server.url);
  url.hostname = '127.0.0.1';
  const project: unknown = JSON.parse(readFileSync('samples/tide-camera.ulvex.json', 'utf8'));
  const quick = JSON.stringify({ project, measures: [{ measure: 'effective_focal_length' }] });
  /** How long until a quick request from another client is served, ms; it is sent again every 0.2 s if refused. */
  const served = async () => {
    const began = performance.now();
    for (;;) {
      const { status } = await sent(url, 100, '/api/measures', quick);
      if (status === 200) return performance.now() - began;
      await pause(200);
    }
  };
  console.log(
    `load ${loadavg()[0].toFixed(1)}; a quick request at rest: ${(await served(), await served()).toFixed(0)} ms`,
  );
  for (const [name, begin] of Object.entries(attacks(url, project))) {
    let [slowest, most, over] = [0, 0, false];
    const watch = (async () => {
      while (!over) {
        const began = performance.now();
        const { status } = await sent(url, 101, '/api/health');
        if (status !== 200) throw new Error(`health answered ${status}`);
        slowest = Math.max(slowest, performance.now() - began);
        most = Math.max(most, residentMb(server.pid));
        await pause(HEALTH_EVERY);
      }
    })();
    const end = begin();
    await pause(1000);
    const during = served();
    const inTime = await Promise.race([during, pause(1000 * seconds).then(() => null)]);
    if (inTime !== null) await pause(1000 * seconds - inTime);
    end();
    const ended = performance.now();
    const after = inTime === null ? (await during, performance.now() - ended) : await served();
    over = true;
    await watch;
    const meanwhile = inTime === null ? 'not served' : `served after ${inTime.toFixed(0)} ms`;
    console.log(
      `${name}, ${seconds} s: health at most ${slowest.toFixed(0)} ms, memory at most ${most.toFixed(0)} ` +
        `MB, a quick request meanwhile ${meanwhile}, after it within ${after.toFixed(0)} ms`,
    );
  }
  server.stop();
}
