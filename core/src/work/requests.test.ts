import { expect } from 'chai';
import type { JobContext } from '../compute/protocol.ts';
import { evaluateMeasure } from '../measures/registry.ts';
import { scanPoint, scanSize } from '../measures/scan.ts';
import { Evaluation } from '../imaging/evaluation/evaluation.ts';
import { projectOf } from '../project/fixtures.ts';
import { setByText } from '../project/set-text.ts';
import { JOBS, type ScanPart } from './jobs.ts';
import { MOST_POINTS, readMeasuresRequest, readScanRequest } from './requests.ts';

const RADIUS = 'lenses.single.surfaces.front.radius';
const FOCUS = { measure: 'effective_focal_length' };
const body = (more: object) => JSON.stringify({ project: projectOf(), measures: [FOCUS], ...more });

/** Nobody gives up, listens or helps. */
const CONTEXT: JobContext<never> = {
  cancelled: () => false,
  report: () => {},
  pause: async () => {},
  at: () => {},
  help: async () => null,
};

function reasonOf(outcome: { ok: boolean; reason?: string }): string {
  expect(outcome.ok).to.equal(false);
  return outcome.reason ?? '';
}

describe('requests of other programs', () => {
  it('bring numbers that follow up to date before they measure', async () => {
    const parameters = {
      'lenses.single.surfaces.front.thickness': { kind: 'linked', formula: `${RADIUS} / 10` },
    };
    const text = (set: number) =>
      JSON.stringify({
        project: { ...projectOf(), parameters },
        measures: [{ measure: 'total_length' }],
        set: { [RADIUS]: set },
      });
    const [short, long] = [await JOBS.measures(text(50), CONTEXT), await JOBS.measures(text(70), CONTEXT)].map(
      (found) => {
        if (!found.ok || !found.value[0].outcome.ok) throw new Error('not measured');
        return found.value[0].outcome.value.value;
      },
    );
    expect(long - short).to.be.closeTo(2, 1e-9);
  });

  it('say what does not follow as it should: with the value, and in place of it in each row of a scan where it is so', async () => {
    const broken = {
      [RADIUS.replace('radius', 'thickness')]: {
        kind: 'linked',
        formula: 'lenses.single.surfaces.frnt.radius / 10',
      },
    };
    const project = { ...projectOf(), parameters: broken };
    const request = JSON.stringify({ project, measures: [FOCUS] });
    const measured = await JOBS.measures(request, CONTEXT);
    const [answer] = measured.ok ? measured.value : [];
    expect(answer.outcome.ok && answer.outcome.value.caution).to.match(/front\.thickness does not follow.*frnt/);
    const axes = [{ address: RADIUS, values: [40, 50, 60] }];
    const rows = async (parameters: object) => {
      const parts: ScanPart[] = [];
      const text = JSON.stringify({ project: { ...projectOf(), parameters }, measures: [FOCUS], axes });
      await JOBS.scan(text, { ...CONTEXT, report: (part) => void parts.push(part) } as JobContext<ScanPart>);
      return parts.flatMap((part) => part.rows.map(({ measured: [one] }) => (one.ok ? 'value' : one.reason)));
    };
    for (const row of await rows(broken)) expect(row).to.match(/does not follow as it should/);
    // A thickness of 60 − R is none for the last of them.
    const some = await rows({
      'lenses.single.surfaces.front.thickness': { kind: 'linked', formula: `1mm*sqrt(${RADIUS}/1mm - 45)` },
    });
    expect(some.map((row) => row === 'value')).to.deep.equal([false, true, true]);
  });

  it('are refused at once for a measure that there is not, and for names without end', () => {
    expect(reasonOf(readMeasuresRequest(body({ measures: [FOCUS, { measure: 'sharpness' }] })))).to.match(
      /no measure “sharpness”/,
    );
    expect(reasonOf(readMeasuresRequest(body({ measures: [{ measure: 'x'.repeat(1e6) }] })))).to.match(
      /longer than 200 letters/,
    );
  });

  it('set parameters by number or as typed, then measure', async () => {
    const request = readMeasuresRequest(body({ set: { [RADIUS]: '2in' } }));
    expect(request.ok && request.value.project.lenses[0].surfaces[0].shape).to.deep.include({ radius: 50.8 });
    const measured = await JOBS.measures(body({ set: { [RADIUS]: '*2' } }), CONTEXT);
    if (!measured.ok) throw new Error(measured.reason);
    const [answer] = measured.value;
    // A plano-convex lens in air: f = R/(n − 1), n(d) = 1.51680 for this glass.
    const changed = setByText(projectOf(), RADIUS, 100);
    if (!changed.ok) throw new Error(changed.reason);
    const expected = evaluateMeasure(new Evaluation(changed.value), {
      ...FOCUS,
      lens: 'single',
      settings: {},
    });
    expect(answer.unit).to.equal('mm');
    expect(answer.outcome).to.deep.equal(expected);
    expect(expected.ok && expected.value.value).to.be.closeTo(100 / 0.5168, 1e-2);
  });

  it('are refused with every place that is wrong', () => {
    expect(reasonOf(readMeasuresRequest('{"a": 1'))).to.match(/^the body is not JSON/);
    expect(reasonOf(readMeasuresRequest('[]'))).to.match(/must be one JSON object|project is missing/);
    expect(reasonOf(readMeasuresRequest('{"measures": []}'))).to.match(
      /project: the project is missing; .*say which measures/,
    );
    expect(reasonOf(readMeasuresRequest(body({ colour: 1 })))).to.match(/project, set and measures/);
    expect(reasonOf(readMeasuresRequest(body({ project: { format: 'x' } })))).to.match(
      /^project: format: .*no Ulvex project/,
    );
    expect(reasonOf(readMeasuresRequest(body({ set: { nothing: 1 } })))).to.match(/set: There is no parameter nothing/);
    expect(reasonOf(readMeasuresRequest(body({ set: { [RADIUS]: 'two' } })))).to.match(/set: lenses/);
    expect(reasonOf(readMeasuresRequest(body({ set: { [RADIUS]: null } })))).to.match(/takes a number or a text/);
    expect(reasonOf(readMeasuresRequest(body({ measures: [{ measure: 3, settings: 'all' }] })))).to.match(/settings/);
    expect(reasonOf(readScanRequest(body({})))).to.match(/axes: say what is scanned/);
    const values = Array.from({ length: 200 }, (_, i) => i + 1);
    const large = readScanRequest(
      body({
        axes: [
          { address: RADIUS, values },
          { address: RADIUS, values },
        ],
      }),
    );
    expect(reasonOf(large)).to.match(new RegExp(`40000 points; the limit is ${MOST_POINTS}`));
  });
});

describe('a scan', () => {
  const project = projectOf();
  const axes = [
    { address: RADIUS, values: [40, 50] },
    { address: 'lenses.single.surfaces.front.thickness', values: [3, 4, 5] },
  ];
  const measures = [{ measure: 'total_length', lens: 'single', settings: {} }];

  it('takes all combinations, the last axis fastest', () => {
    expect(scanSize(axes)).to.equal(6);
    const rows = Array.from({ length: 6 }, (_, point) => scanPoint(project, axes, measures, point));
    expect(rows.map((row) => row.ok && row.value.at)).to.deep.equal([
      [40, 3],
      [40, 4],
      [40, 5],
      [50, 3],
      [50, 4],
      [50, 5],
    ]);
    const lengths = rows.map((row) => row.ok && row.value.measured[0].ok && row.value.measured[0].value.value);
    expect(lengths).to.deep.equal([97, 98, 99, 97, 98, 99]);
  });

  it('fails by itself where a value is not legal', () => {
    const bad = scanPoint(project, [{ address: RADIUS, values: [0] }], measures, 0);
    expect(reasonOf(bad)).to.match(/radius/);
    expect(reasonOf(scanPoint(project, axes, measures, 6))).to.equal('The scan has no point 6.');
  });

  it('reports its rows on the way and stops when it is cancelled', async () => {
    const values = Array.from({ length: 40 }, (_, i) => 40 + i);
    const text = body({ axes: [{ address: RADIUS, values }] });
    const parts: ScanPart[] = [];
    const context = (most: number): JobContext<ScanPart> => ({
      cancelled: () => parts.length >= most,
      report: (part) => void parts.push(part),
      pause: async () => {},
      at: () => {},
      help: async () => null,
    });
    expect(await JOBS.scan(text, context(Infinity))).to.deep.equal({ ok: true, value: { points: 40 } });
    expect(parts.flatMap(({ rows }) => rows.map(({ at }) => at[0]))).to.deep.equal(values);
    expect(parts.at(-1)).to.deep.include({ done: 40, of: 40 });
    const wrong = await JOBS.scan(body({ axes: [{ address: 'x', values: [1] }] }), context(Infinity));
    expect(reasonOf(wrong)).to.match(/no parameter x/);
  });
});
