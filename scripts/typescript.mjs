// Lets Node run TypeScript, by tsx: `node --import ./scripts/typescript.mjs FILE`. tsx has esbuild keep the names of functions, which sets a
// property of each closure that is made: inner loops then take several times as long as in the built application. Here names are not kept.
import 'tsx';
import Module, { register } from 'node:module';
import { isMainThread } from 'node:worker_threads';
import { register as registerTsx } from 'tsx/esm/api';

if (!isMainThread) registerTsx(); // tsx by itself looks after the main thread only

const KEEPS = '__name=(target,value)=>__defProp(target,"name",{value,configurable:true})';
const PLAIN = '__name=(target)=>target';

const compile = Module.prototype._compile;
Module.prototype._compile = function (code, file, ...rest) {
  return compile.call(this, file.endsWith('.ts') ? code.replace(KEEPS, PLAIN) : code, file, ...rest);
};

register(
  `data:text/javascript,${encodeURIComponent(`export async function load(url, context, next) {
  const loaded = await next(url, context);
  if (loaded.source == null || !/\\.ts(\\?|$)/.test(url)) return loaded;
  return { ...loaded, source: String(loaded.source).replace(${JSON.stringify(KEEPS)}, ${JSON.stringify(PLAIN)}) };
}`)}`,
);
