import { spawn, type ChildProcess } from 'node:child_process';
import { resolve } from 'node:path';

/** The built application, served on a port of its own. */
export interface RunningServer {
  readonly url: string;
  readonly pid: number;
  /** Resolves to its exit code when it has ended. */
  readonly ended: Promise<number | null>;
  stop(): void;
}

/** Starts the built application on a free port, with settings of the environment. Rejects with what it printed when it does not come up. */
export async function startServer(env: Readonly<Record<string, string>> = {}): Promise<RunningServer> {
  const app = resolve(import.meta.dirname, '../../app');
  const child: ChildProcess = spawn(process.execPath, ['serve.mjs'], {
    cwd: app,
    env: { ...process.env, PORT: '0', HOST: '127.0.0.1', ...env },
    stdio: ['ignore', 'pipe', 'pipe'],
  });
  const ended = new Promise<number | null>((done) => child.on('exit', done));
  const url = await new Promise<string>((found, failed) => {
    let output = '';
    const read = (chunk: Buffer) => {
      output += chunk.toString();
      const match = /http:\/\/\S+/.exec(output);
      if (match) found(match[0]);
    };
    child.stdout!.on('data', read);
    child.stderr!.on('data', read);
    child.on('exit', (code) => failed(new Error(`the server ended with ${code}:\n${output}`)));
  });
  return { url, pid: child.pid!, ended, stop: () => void child.kill() };
}
