// `npm run dev`: installs, then serves the application from its sources, reloading as they change.
import { buildKernels, installPackages, run } from './setup.mjs';

installPackages();
buildKernels();
run('npm', ['run', 'dev', '-w', 'app', '--', ...process.argv.slice(2)]);
