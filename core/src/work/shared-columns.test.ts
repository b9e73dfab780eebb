import { expect } from 'chai';
import { readFileSync } from 'node:fs';
import type { JobContext } from '../compute/protocol.ts';
import type { PolishEnd } from '../improve/polish.ts';
import type { Project } from '../project/model.ts';
import { readProjectText } from '../project/read.ts';
import { JOBS } from './jobs.ts';
import { columnsPart, type ColumnsInput } from './shared-columns.ts';

const read = readProjectText(readFileSync('samples/forms/triplet.ulvex.json', 'utf8'));
if (!read.ok) throw new Error(JSON.stringify(read.problems));
const [goal, ...others] = read.project.goals!;
/** Spots behind a workshop: their derivatives are differences, which take their time. */
const project: Project = {
  ...read.project,
  goals: [{ ...goal, workshop: 'usual' } as typeof goal, ...others],
};

/** A polish of some evaluations with others that do at most so many parts of each place. */
async function polished(helpers: number): Promise<{ end: PolishEnd; parts: number }> {
  let parts = 0;
  const context: JobContext<never> = {
    cancelled: () => false,
    report: () => {},
    pause: async () => {},
    at: () => {},
    async help(job, input) {
      expect(job).to.equal('columns');
      if ((input as ColumnsInput).part > helpers) return null;
      parts++;
      return structuredClone(await columnsPart(structuredClone(input) as ColumnsInput));
    },
  };
  const end = await JOBS.polish({ project, options: { evaluations: 8 } }, context as never);
  if (!end.ok) throw new Error(end.reason);
  return { end: end.value, parts };
}

describe('columns shared among workers', () => {
  it('lead where they lead alone, to the last digit, however many help', async () => {
    const alone = await polished(0);
    expect(alone.parts).to.equal(0);
    for (const helpers of [1, 3]) {
      const shared = await polished(helpers);
      expect(shared.parts).to.be.at.least(helpers);
      expect(shared.end.x).to.deep.equal(alone.end.x);
      expect(shared.end.merit).to.equal(alone.end.merit);
    }
  }).timeout(60_000);

  it('are none of a project that cannot be polished', async () => {
    const x = new Float64Array(3);
    expect(await columnsPart({ run: 'none', project: { ...project, goals: [] }, x, part: 0, of: 2 })).to.equal(null);
  });
});
