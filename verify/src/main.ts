import { existsSync, readdirSync, readFileSync } from 'node:fs';
import { join, resolve } from 'node:path';
import { parseArgs } from 'node:util';
import { judgeLens } from './judge-lens.ts';
import type { ReferenceLens } from './reference-lens.ts';
import { judgePhysics, type PhysicsCase } from './judge-physics.ts';
import { solveAll } from './least-squares.ts';
import { Tally } from './tally.ts';
import type { ToleranceTable } from './tolerances.ts';

const usage = `npm run verify -- [--reference FOLDER] [--worst]
  Compares Ulvex with reference values: pairs NAME.json and NAME.ref.json, tolerances.json, physics.json.
  --worst   names the value that deviates most in each category`;

const home = resolve(import.meta.dirname, '../../reference');

function readJson(path: string): unknown {
  try {
    return JSON.parse(readFileSync(path, 'utf8'));
  } catch (error) {
    throw new Error(`${path}: ${(error as Error).message}`, { cause: error });
  }
}

/** One line per category of a file; returns the sums. */
function report(title: string, tally: Tally, worst: boolean): { passed: number; failed: number; missing: number } {
  const sum = { passed: 0, failed: 0, missing: 0 };
  console.log(title);
  for (const [category, counts] of tally.categories) {
    sum.passed += counts.passed;
    sum.failed += counts.failed;
    sum.missing += counts.missing;
    const deviation = counts.passed + counts.failed > 0 ? `worst ${counts.worst.toPrecision(2)} of tolerance` : '';
    const columns = [`${counts.passed} passed`, `${counts.failed} failed`, `${counts.missing} missing`];
    console.log(`  ${category.padEnd(28)}${columns.map((column) => column.padEnd(15)).join('')}${deviation}`);
    if ((worst || counts.failed > 0) && counts.worstAt) console.log(`      ${counts.worstAt}`);
  }
  return sum;
}

/** The least-squares solver against its classic test problems; false where one of them is not solved from its standard start. */
function solver(): boolean {
  console.log('least-squares test problems of Moré, Garbow and Hillstrom');
  const [standard] = [1, 10].map((factor) => {
    const { runs, solved, of, evaluations } = solveAll(factor);
    const start = factor === 1 ? 'the standard start' : `${factor} × the standard start`;
    console.log(`  from ${start}: ${solved} of ${of} solved, ${evaluations} evaluations`);
    for (const { name, square, reason } of runs.filter((run) => !run.solved))
      console.log(`      ${name}: ended at ${square.toPrecision(6)} (${reason})`);
    return solved === of;
  });
  return standard; // the other is told, not asked for: some of these problems have other minima from there
}

function main(): number {
  const { values } = parseArgs({
    options: {
      reference: { type: 'string' },
      worst: { type: 'boolean', default: false },
      help: { type: 'boolean', short: 'h' },
    },
  });
  if (values.help) {
    console.log(usage);
    return 0;
  }
  const folder = resolve(values.reference ?? home);
  const names = readdirSync(folder)
    .filter((name) => name.endsWith('.ref.json'))
    .sort();
  if (names.length === 0) throw new Error(`${folder} holds no file NAME.ref.json`);
  const own = join(folder, 'tolerances.json');
  const tolerances = readJson(existsSync(own) ? own : join(home, 'tolerances.json')) as ToleranceTable;
  const total = { passed: 0, failed: 0, missing: 0 };
  const add = (sum: typeof total) => {
    total.passed += sum.passed;
    total.failed += sum.failed;
    total.missing += sum.missing;
  };
  for (const name of names) {
    const lens = readJson(join(folder, name.replace('.ref.json', '.json'))) as ReferenceLens;
    add(report(`${name}: ${lens.name}`, judgeLens(lens, readJson(join(folder, name)), tolerances), values.worst));
  }
  const physics = join(folder, 'physics.json');
  if (existsSync(physics)) {
    const tally = new Tally();
    const { cases } = readJson(physics) as { cases: PhysicsCase[] };
    judgePhysics(cases, tally);
    add(report(`physics.json: ${cases.length} cases`, tally, values.worst));
  }
  const solved = solver();
  console.log(`verified ${total.passed} of ${total.passed + total.failed + total.missing}, missing ${total.missing}`);
  return total.failed > 0 || !solved ? 1 : 0;
}

process.exitCode = main();
