import { expect } from 'chai';
import type { JobContext } from '../compute/protocol.ts';
import { evaluateMeasure } from '../measures/registry.ts';
import { scanPoint, scanSize } from '../measures/scan.ts';
import { Evaluation } from '../imaging/evaluation/evaluation.ts';
import { projectOf } from '../project/fixtures.ts';
import { detector, part, sceneProject, source } from '../project/scene-fixtures.ts';
import { sceneReport } from '../scene/report.ts';
import { traceAll } from '../scene/run.ts';
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

describe('requests for traces and checks', () => {
  const plate = (id: string, dz: number) =>
    detector({ kind: 'rectangle', width: 10, height: 10 }, { id, frame: { dz } });
  const lamp = sceneProject({ id: 'lamp', sources: [source()], detectors: [plate('near', 10), plate('far', 50)] });
  const asked = (more: object) => JSON.stringify({ project: lamp, rays: 4096, ...more });
  /** A context that keeps what is reported. */
  const listening = () => {
    const parts: { done: number; of: number }[] = [];
    return { parts, context: { ...CONTEXT, report: (part: { done: number; of: number }) => void parts.push(part) } };
  };

  it('report a scene as it would be summed up here, with the maps that are asked for alone', async () => {
    const found = await JOBS.trace(asked({ seed: 5, maps: ['far'] }), CONTEXT);
    if (!found.ok) throw new Error(found.reason);
    const scenes = lamp.scenes!.map((scene) => ({ ...scene, sampling: { ...scene.sampling, seed: 5 } }));
    const scene = new Evaluation({ ...lamp, scenes }).scene('lamp');
    if (!scene.ok) throw new Error(scene.reason);
    const { model } = scene.value;
    expect(found.value).to.deep.equal(sceneReport(model, traceAll(model, 4096), ['far']));
    expect(found.value.detectors.map(({ map }) => map !== undefined)).to.deep.equal([false, true]);
  });

  it('set parameters first, and name what cannot be traced', async () => {
    const halved = await JOBS.trace(asked({ set: { 'scenes.lamp.sources.lamp.flux': 0.5 } }), CONTEXT);
    if (!halved.ok) throw new Error(halved.reason);
    expect(halved.value.energy.launched).to.be.closeTo(0.5, 1e-12);
    const refusal = async (more: object) => reasonOf(await JOBS.trace(asked(more), CONTEXT));
    expect(await refusal({ scene: 'moon' })).to.equal('There is no scene “moon”; there are lamp.');
    expect(await refusal({ maps: ['moon'] })).to.equal('There is no detector “moon”; there are near, far.');
    expect(await refusal({ rays: 63 })).to.match(/rays: a whole number from 64 to/);
    expect(await refusal({ rays: 1e12 })).to.match(/rays: a whole number/);
    expect(await refusal({ set: { 'scenes.lamp.sources.lamp.flux': 0 } })).to.match(/No source shines/);
    expect(await refusal({ unknown: 1 })).to.match(/a request has project, set, scene/);
    expect(reasonOf(await JOBS.trace(body({ measures: undefined }), CONTEXT))).to.equal('The project has no scene.');
  });

  it('tell how far a run has come, and end when it is given up', async () => {
    const { parts, context } = listening();
    const whole = await JOBS.trace(asked({ rays: 2_000_000 }), context);
    expect(whole.ok).to.equal(true);
    expect(parts.length).to.be.greaterThan(0);
    for (const { done, of } of parts) expect(done).to.be.within(1, of);
    const given = await JOBS.trace(asked({ rays: 100_000_000 }), { ...CONTEXT, cancelled: () => true });
    expect(reasonOf(given)).to.equal('It was cancelled.');
  });

  it('tell what does not follow as it should, as a finding', async () => {
    const parameters = { 'scenes.lamp.sources.lamp.flux': { kind: 'linked', formula: 'scenes.lamp.sources.lmp.flux' } };
    const project = { ...lamp, parameters };
    const traced = await JOBS.trace(JSON.stringify({ project, rays: 64 }), CONTEXT);
    expect(traced.ok && traced.value.findings[0].text).to.match(/flux does not follow.*lmp/);
    const checked = await JOBS.check(JSON.stringify({ project }), CONTEXT);
    expect(checked.ok && checked.value.findings[0].text).to.match(/flux does not follow.*lmp/);
  });

  it('list what is wrong with lenses and scenes, and how requirements stand', async () => {
    const requirements = [
      { id: 'r1', measure: 'effective_focal_length', lens: 'single', settings: {}, min: 1 },
      { id: 'r2', measure: 'effective_focal_length', lens: 'single', settings: {}, max: 1 },
      { id: 'r3', measure: 'rms_spot_radius', lens: 'single', settings: { field: 'none' }, max: 1 },
    ];
    const scenes = [
      {
        ...lamp.scenes![0],
        parts: [part('shade', { kind: 'box', width: 1, height: 1, thickness: 1 }, { finish: 'gone' })],
      },
    ];
    const project = { ...projectOf(), requirements, scenes };
    const found = await JOBS.check(JSON.stringify({ project }), CONTEXT);
    if (!found.ok) throw new Error(found.reason);
    const { good, findings, requirements: stand } = found.value;
    expect(good).to.equal(false);
    expect(findings.filter(({ scene }) => scene === 'lamp')).to.deep.include({
      scene: 'lamp',
      severity: 'error',
      where: 'shade',
      text: findings.find(({ where }) => where === 'shade')?.text,
    });
    expect(stand.map(({ verdict }) => verdict)).to.deep.equal(['met', 'missed', 'missed']);
    expect(stand[0].margin).to.equal(stand[0].value! - 1);
    expect(stand[2].failure).to.match(/none/);
    const plain = await JOBS.check(JSON.stringify({ project: projectOf() }), CONTEXT);
    expect(plain.ok && plain.value.good).to.equal(true);
  });
});
