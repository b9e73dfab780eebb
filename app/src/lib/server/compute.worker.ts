import { JOBS, serveJobs, type ToWorker } from '@ulvex/core';

if (!process.send) throw new Error('this is the compute worker of the server; it is started by the server');
const post = process.send.bind(process);
const pause = () => new Promise<void>((resolve) => setImmediate(resolve));
const serve = serveJobs(JOBS, (message) => void post(message), pause);
process.on('message', (message: ToWorker) => void serve(message));
process.on('disconnect', () => process.exit(0)); // the server is gone
for (const signal of ['SIGINT', 'SIGTERM'] as const) process.on(signal, () => {}); // the server ends its workers itself, after their last words
