// `npm run demo`: installs, builds, starts. A browser that opens the printed address for the first time sees the tide camera.
import { spawn } from 'node:child_process';
import { join } from 'node:path';
import { buildApp, buildKernels, installPackages, root } from './setup.mjs';

installPackages();
buildKernels();
buildApp();
const server = spawn(process.execPath, ['serve.mjs'], { cwd: join(root, 'app'), stdio: 'inherit' });
server.on('exit', (code) => process.exit(code ?? 0));
for (const signal of ['SIGINT', 'SIGTERM']) process.on(signal, () => server.kill(signal));
