import { JOBS, serveJobs, type ToWorker } from '@ulvex/core';
import { parentPort } from 'node:worker_threads';

if (!parentPort) throw new Error('this is the compute worker of the server; start it as a worker thread');
const port = parentPort;
const pause = () => new Promise<void>((resolve) => setImmediate(resolve));
const serve = serveJobs(JOBS, (message) => port.postMessage(message), pause);
port.on('message', (message: ToWorker) => void serve(message));
