import { readFileSync } from 'node:fs';
import { expect } from 'chai';
import { quickProject, type Quick } from '../project/fixtures.ts';
import { readProjectText } from '../project/read.ts';
import type { Compensator, RefocusAfter, Tolerance } from '../project/tolerances.ts';
import { responseByDerivatives } from './by-derivatives.ts';
import { influencesOf } from './influence.ts';
import { summaryOf } from './lot-summary.ts';
import { makeTrials } from './monte-carlo.ts';
import { oneByOne, type OneByOne, type StudyInput, type Watched } from './one-by-one.ts';
import { lotByResponse } from './response-lot.ts';
import { curvesOf, type Response } from './response.ts';
import { watchedRequirements } from './watched.ts';

function tide(): StudyInput {
  const read = readProjectText(readFileSync('samples/tide-camera.ulvex.json', 'utf8'));
  if (!read.ok) throw new Error('unreadable');
  const { project } = read;
  const { tolerances, compensators = [] } = project.tolerancing!;
  return { project, tolerances, compensators, watched: watchedRequirements(project) };
}

const at = (path: string) => `lenses.lens.surfaces.${path}`;
const PAIR: readonly Quick[] = [
  { r: 60, t: 5, n: 1.52 },
  { r: -45, t: 2, n: 1.65 },
  { r: -150, t: 95 },
];
const TOLERANCES: readonly Tolerance[] = [
  { id: 'r1', kind: 'share', address: at('s1.radius'), lower: -0.1, upper: 0.1 },
  { id: 'flat', kind: 'fringes', address: at('s2.radius'), lower: -3, upper: 3 },
  { id: 't', kind: 'number', address: at('s1.thickness'), lower: -0.1, upper: 0.1 },
  { id: 'last', kind: 'number', address: at('s3.thickness'), lower: -0.3, upper: 0.3 },
  { id: 'wx', kind: 'wedge', lens: 'lens', surface: 's2', across: 'x', lower: -0.01, upper: 0.01 },
  { id: 'wy', kind: 'wedge', lens: 'lens', surface: 's2', across: 'y', lower: -0.01, upper: 0.01 },
  { id: 'tilt', kind: 'element', lens: 'lens', surface: 's1', motion: 'tilt_x', lower: -0.05, upper: 0.05 },
  { id: 'shift', kind: 'element', lens: 'lens', surface: 's1', motion: 'shift_y', lower: -0.02, upper: 0.02 },
];
const spot = (field: string): Watched => ({ id: field, measure: 'rms_spot_radius', lens: 'lens', settings: { field } });
const FIELDS = {
  kind: 'angle',
  points: [
    { id: 'axis', x: 0, y: 0, weight: 1 },
    { id: 'edge', x: 0, y: 4, weight: 2 },
  ],
} as const;
const compensated = (criterion: RefocusAfter['criterion'] | null): readonly Compensator[] =>
  criterion ? [{ id: 'c', kind: 'refocus', lens: 'lens', criterion }] : [];
const study = (compensators: readonly Compensator[], watched: readonly Watched[]): StudyInput => ({
  project: quickProject(PAIR, { fields: FIELDS, aperture: { kind: 'entrance_pupil_diameter', value: 20 } }),
  tolerances: TOLERANCES,
  compensators,
  watched,
});

function response(input: StudyInput): Response {
  const found = responseByDerivatives(input);
  if (!found.ok) throw new Error(found.reason);
  return found.value;
}

function traced(input: StudyInput): OneByOne {
  const work = oneByOne(input);
  let step = work.next();
  while (!step.done) step = work.next();
  if (!step.value.ok) throw new Error(step.value.reason);
  return step.value.value;
}

/** Largest difference of the two ladders of a measure, over the largest change in it. */
function apart(found: Response, direct: OneByOne, k: number): number {
  const curves = curvesOf(found);
  const nominal = direct.nominal[k];
  if (!nominal.ok) throw new Error(nominal.reason);
  let [most, range] = [0, 0];
  direct.influences.forEach((row, i) => {
    row[k].values.forEach((value, p) => {
      most = Math.max(most, Math.abs(value! - curves[i].curves[k].values[p]!));
      range = Math.max(range, Math.abs(value! - nominal.value));
    });
  });
  return most / range;
}

describe('tolerances by derivatives', () => {
  for (const criterion of ['centroid', 'paraxial', null] as const)
    it(`give the ladder of trials, ${criterion ? `refocused by ${criterion}` : 'nothing set after making'}`, () => {
      const watched = [spot('worst'), spot('all'), spot('edge')];
      const input = study(compensated(criterion), watched);
      const [found, direct] = [response(input), traced(input)];
      watched.forEach(({ id }, k) => expect(apart(found, direct, k), id).to.be.below(0.03));
    });

  it('give focal length, length and distortion of the tide camera by their slopes, and its spot within two percent', () => {
    const input = tide();
    const [found, direct] = [response(input), traced(input)];
    input.watched.forEach(({ id }, k) => expect(apart(found, direct, k), id).to.be.below(0.02));
    // What the ladder is ranked by, too: standard deviations and shares.
    const curves = curvesOf(found);
    const influences = influencesOf(found.tolerances, curves);
    if (!influences.ok) throw new Error(influences.reason);
    const worst = input.watched.findIndex(({ measure }) => measure === 'rms_spot_radius');
    influences.value.forEach((row, i) =>
      expect(row[worst].share, found.tolerances[i].id).to.be.closeTo(direct.influences[i][worst].share, 0.004),
    );
  });

  it('take all tolerances together: the lot by the response is that of traced trials, trial by trial', () => {
    const input = study(compensated('centroid'), [spot('worst'), spot('axis')]);
    const lot = lotByResponse(response(input), TOLERANCES, 4, 120);
    if (!lot.ok) throw new Error(lot.reason);
    const work = makeTrials({ ...input, seed: 4 }, 0, 120);
    const rows: (readonly (number | null)[])[] = [];
    for (let step = work.next(); !step.done; step = work.next()) rows.push(step.value.values);
    [0, 1].forEach((k) => {
      const direct = rows.map((row) => row[k]!);
      const { deviation, mean, meanError } = summaryOf(direct, {})!;
      const miss = Math.sqrt(direct.reduce((sum, value, i) => sum + (value - lot.value.values[k][i]) ** 2, 0) / 120);
      expect(miss / deviation, `spot ${k}`).to.be.below(0.05);
      expect(summaryOf([...lot.value.values[k]], {})!.mean).to.be.closeTo(mean, 0.2 * meanError);
    });
  });

  it('give the depth of focus of a perfect mirror: |δ| tan u over the pupil, to either side', () => {
    const mirror = quickProject([{ t: 200 }, { r: -400, k: -1, t: -200, n: 'mirror' }], {
      aperture: { kind: 'entrance_pupil_diameter', value: 50 },
      fields: { kind: 'angle', points: [{ id: 'axis', x: 0, y: 0, weight: 1 }] },
    });
    const last: Tolerance = { id: 'focus', kind: 'number', address: at('s2.thickness'), lower: -0.2, upper: 0.2 };
    const found = response({ project: mirror, tolerances: [last], compensators: [], watched: [spot('axis')] });
    const [{ curves }] = curvesOf(found);
    // tan u = y/(f − y²/(4 f)); the mean square over a full pupil, by its own quadrature.
    const [f, semi, steps] = [200, 25, 2000];
    let mean = 0;
    for (let i = 0; i < steps; i++) {
      const y2 = (semi * semi * (i + 0.5)) / steps;
      mean += y2 / (f - y2 / (4 * f)) ** 2 / steps;
    }
    curves[0].at.forEach((shift, i) =>
      expect(curves[0].values[i], `${shift} mm`).to.be.closeTo(1000 * Math.abs(shift) * Math.sqrt(mean), 1e-4),
    );
  });

  it('know figures of faces and groups, jointly with all others', () => {
    const figures = (['astigmatism', 'astigmatism_45', 'coma_y', 'spherical'] as const).map((error): Tolerance => ({
      id: error,
      kind: 'figure',
      lens: 'lens',
      surface: 's1',
      error,
      lower: -1,
      upper: 1,
    }));
    const group = { kind: 'element', lens: 'lens', surface: 's1', to: 's2', motion: 'tilt_y', pivot: 3 } as const;
    const tolerances: Tolerance[] = [...figures, { id: 'group', ...group, lower: -0.03, upper: 0.03 }];
    const input = { ...study(compensated('centroid'), [spot('axis'), spot('edge')]), tolerances };
    const lot = lotByResponse(response(input), tolerances, 2, 20);
    if (!lot.ok) throw new Error(lot.reason);
    const work = makeTrials({ ...input, seed: 2 }, 0, 20);
    const rows: (readonly (number | null)[])[] = [];
    for (let step = work.next(); !step.done; step = work.next()) rows.push(step.value.values);
    [0, 1].forEach((k) => {
      const { deviation } = summaryOf(
        rows.map((row) => row[k]),
        {},
      )!;
      rows.forEach((row, i) => expect(lot.value.values[k][i], `${k} ${i}`).to.be.closeTo(row[k]!, 0.05 * deviation));
    });
  });

  it('do not know what is not differentiated, nor measures in states', () => {
    const watched: Watched[] = [
      { id: 'mtf', measure: 'mtf', lens: 'lens', settings: { field: 'axis', frequency: 20 } },
      { ...spot('axis'), settings: { field: 'axis', reference: 'chief' } },
    ];
    const found = response(study([], watched));
    expect(found.quadratics).to.deep.equal([null, null]);
    expect(curvesOf(found)[0].curves.map(({ fit }) => fit)).to.deep.equal([null, null]);
    const lot = lotByResponse(found, TOLERANCES, 1, 3);
    expect(lot.ok && [...lot.value.values[0]]).to.deep.equal([NaN, NaN, NaN]);
  });

  it('are refused where a tolerance of the lot is not among them', () => {
    const found = response(study([], [spot('axis')]));
    const more: Tolerance = { id: 'new', kind: 'number', address: at('s2.thickness'), lower: -1, upper: 1 };
    expect(lotByResponse(found, [...TOLERANCES, more], 1, 3)).to.deep.include({ ok: false, where: 'new' });
  });
});
