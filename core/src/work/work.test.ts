import { expect } from 'chai';
import type { JobContext } from '../compute/protocol.ts';
import { Evaluation } from '../imaging/evaluation/evaluation.ts';
import { projectOf } from '../project/fixtures.ts';
import { projectText } from '../project/read.ts';
import { JOBS, type EvaluatePart } from './jobs.ts';
import { answerQuery, type Query } from './queries.ts';

const SPOTS: Query<'analysis'> = {
  kind: 'analysis',
  analysis: 'spots',
  lens: 'single',
  settings: { pupil: 'full', sampling: '4 × 8' },
  detail: 'full',
};
const LENGTH: Query<'measure'> = { kind: 'measure', measure: 'total_length', lens: 'single', settings: {} };

/** A context that records parts and cancels after some of them. */
function recorder(cancelAfter = Infinity): JobContext<EvaluatePart> & { parts: EvaluatePart[] } {
  const parts: EvaluatePart[] = [];
  return {
    parts,
    cancelled: () => parts.length >= cancelAfter,
    report: (part) => void parts.push(part),
    pause: async () => {},
    at: () => {},
    help: async () => null,
  };
}

describe('queries', () => {
  it('answer every kind for a sound lens', () => {
    const evaluation = new Evaluation(projectOf());
    const queries: Query[] = [
      { kind: 'section', lens: 'single', raysPerField: 3 },
      SPOTS,
      { kind: 'first_order', lens: 'single' },
      { kind: 'findings', lens: 'single' },
      LENGTH,
    ];
    for (const query of queries) expect(answerQuery(evaluation, query).ok, query.kind).to.equal(true);
  });

  it('keep an error inside one of them from the others', async () => {
    const context = recorder();
    const broken = { kind: 'ray', lens: 'single', source: null, wavelength: null } as unknown as Query;
    await JOBS.evaluate(
      {
        project: projectOf(),
        queries: [
          { key: 'a', query: broken },
          { key: 'b', query: LENGTH },
        ],
      },
      context,
    );
    const answers = context.parts.flat(); // in one part or, on a busy machine, in two
    expect(answers[0].answer.ok ? '' : answers[0].answer.reason).to.match(/^An error inside Ulvex: .*null/);
    expect(answers[1]).to.deep.equal({ key: 'b', answer: { ok: true, value: { value: 98 } } });
  });

  it('stop between two of them when they are cancelled', async () => {
    const context = recorder(1);
    const queries = ['a', 'b', 'c'].map((key) => ({ key, query: LENGTH, later: true }));
    await JOBS.evaluate({ project: projectOf(), queries }, context);
    expect(context.parts.map((part) => part.map(({ key }) => key))).to.deep.equal([['a']]);
  });

  it('send what was gathered before they begin what may come later', async () => {
    const context = recorder();
    const queries = [
      { key: 'a', query: LENGTH },
      { key: 'b', query: LENGTH },
      { key: 'c', query: SPOTS, later: true },
    ];
    await JOBS.evaluate({ project: projectOf(), queries }, context);
    expect(context.parts.map((part) => part.map(({ key }) => key))).to.deep.equal([['a', 'b'], ['c']]);
  });

  it('survive the way to another thread', () => {
    const evaluation = new Evaluation(projectOf());
    const answer = answerQuery(evaluation, SPOTS);
    expect(structuredClone(answer)).to.deep.equal(answer);
  });
});

describe('jobs', () => {
  it('refocus and read', () => {
    const found = JOBS.refocus({ project: projectOf(), lens: 'single', criterion: 'centroid' });
    expect(found.ok).to.equal(true);
    expect(JOBS.read(projectText(projectOf()))).to.deep.equal({ ok: true, project: projectOf(), from: 3 });
    expect(JOBS.read('{}').ok).to.equal(false);
  });
});
