import { ABERRATION_KEYS, powerFit } from '../imaging/wavefront/power-fit.ts';
import { beamAt, beamThroughLens, type BeamStep } from '../imaging/field/gaussian-beam.ts';
import { beamAlongRay } from '../imaging/field/elliptical-beam.ts';
import { surfacePowers } from '../imaging/field/surface-powers.ts';
import { success } from '../math/outcome.ts';
import { defineAnalysis, ONE_COLOUR, pupilWords, waveOf, waveWords } from './analysis.ts';
import type { BarPanel, Curve, CurvePanel, TablePanel } from './panels.ts';

export const powers = defineAnalysis({
  id: 'powers',
  title: 'Powers and Petzval sum',
  topic: 'theory',
  question: 'Which surface carries the power?',
  meaning:
    'By surface at the primary wavelength: its share of the power of the lens, hφ/(h₁Φ), and its part of ' +
    'the Petzval curvature, −φ/(nn′); sum and the Petzval radius below. Positive shares bend as the whole ' +
    'lens does.',
  wide: true,
  settings: {},
  exact: true,
  // eslint-disable-next-line require-yield -- nothing to wait for
  *evaluate(lens) {
    const primary = lens.primary();
    if (!primary.ok) return primary;
    const { model } = lens;
    const found = surfacePowers(lens);
    if (!found.ok) return found;
    const { powers: each, petzval, petzvalSum: sum } = found.value;
    const surfaces = model.surfaces.slice(0, -1);
    const { y, u } = primary.value.marginal;
    // Of a ray that comes in parallel nothing else bends it; of others each surface's part of the whole bend.
    const bend = each.reduce((sum, power, j) => sum + y[j] * power, 0) || 1;
    const names = surfaces.map(({ id }) => id);
    const table: TablePanel = {
      kind: 'table',
      title: 'by surface',
      columns: [
        { title: 'surface', unit: '', ids: true },
        { title: 'power', unit: '1/m' },
        { title: 'h', unit: 'mm' },
        { title: 'u behind', unit: '' },
        { title: 'share of the bend', unit: '%' },
        { title: 'Petzval', unit: '1/m' },
      ],
      rows: names.map((name, j) => [
        name,
        1000 * each[j],
        y[j],
        u[j + 1],
        (100 * y[j] * each[j]) / bend,
        1000 * petzval[j],
      ]),
    };
    return success({
      panels: [
        bars(
          { title: 'share of the bend', unit: '%' },
          names,
          each.map((power, j) => (100 * y[j] * power) / bend),
          [{ name: 'power of the lens', value: 1000 * primary.value.power, unit: '1/m' }],
        ),
        bars(
          { title: 'Petzval curvature', unit: '1/m' },
          names,
          petzval.map((part) => 1000 * part),
          [
            { name: 'sum', value: 1000 * sum, unit: '1/m' },
            { name: 'Petzval radius', value: sum === 0 ? Infinity : 1 / sum, unit: 'mm' },
          ],
        ),
        table,
      ],
      about: [waveWords(lens, model.primary), 'paraxial'],
    });
  },
});

function bars(
  value: BarPanel['value'],
  names: readonly string[],
  values: readonly number[],
  figures: BarPanel['figures'] = [],
): BarPanel {
  const { title } = value;
  return { kind: 'bars', title, names, value, series: [{ name: title, tint: 'ink', values }], figures };
}

export const heights = defineAnalysis({
  id: 'heights',
  title: 'y–ȳ diagram',
  topic: 'theory',
  question: 'How do marginal and chief ray run together?',
  meaning:
    'Height of the marginal ray over that of the chief ray at every surface, joined by straight lines, ' +
    'one for each medium: the stop lies where ȳ = 0, images lie where y = 0. Areas between lines are ' +
    'lengths of air or glass (Delano).',
  settings: {},
  exact: true,
  // eslint-disable-next-line require-yield -- nothing to wait for
  *evaluate(lens) {
    const primary = lens.primary();
    if (!primary.ok) return primary;
    const { marginal, chief } = primary.value;
    const [x, y] = [[...chief.y], [...marginal.y]];
    const names = lens.model.surfaces.map(({ id }) => id);
    const panel: CurvePanel = {
      kind: 'curves',
      title: '',
      x: { title: 'chief-ray height ȳ', unit: 'mm' },
      y: { title: 'marginal-ray height y', unit: 'mm' },
      curves: [
        { name: 'surfaces', tint: 'ink', x, y },
        ...names.map((name, j): Curve => ({
          name,
          tint: { field: j === lens.model.stop ? 1 : 0 },
          x: [x[j], x[j]],
          y: [y[j], y[j]],
        })),
      ],
      figures: [{ name: 'Lagrange invariant', value: primary.value.lagrange, unit: 'mm' }],
    };
    return success({ panels: [panel], about: [waveWords(lens, lens.model.primary), 'paraxial'] });
  },
});

export const powerSeries = defineAnalysis({
  id: 'power_series',
  inAngle: true,
  title: 'Third and fifth order',
  topic: 'theory',
  question: 'Which order is it?',
  meaning:
    'The wavefront over pupil and field as a power series, W = Σ Wklm hᵏ ρˡ cosᵐφ, to the sixth power ' +
    '(fifth order in rays), by least squares over real rays of several fields; h and ρ are 1 at the edge. ' +
    'Wklm with k + l = 4 are close to the Seidel coefficients; the residual of the fit is shown.',
  settings: { colour: ONE_COLOUR },
  *evaluate(lens, settings, detail) {
    const wave = waveOf(lens, settings.colour);
    if (!wave.ok) return wave;
    yield;
    const fit = powerFit(lens, wave.value!, detail === 'draft' ? 5 : 9);
    if (!fit.ok) return fit;
    const { terms, residual, total } = fit.value;
    const name = ({ k, l, m }: (typeof terms)[number]) =>
      `W${k}${l}${m}${ABERRATION_KEYS[`${k}${l}${m}`] ? ` ${ABERRATION_KEYS[`${k}${l}${m}`]}` : ''}`;
    const bars: BarPanel = {
      kind: 'bars',
      title: '',
      value: { title: 'W', unit: 'λ' },
      names: terms.map(name),
      series: [{ name: 'W', tint: 'ink', values: terms.map(({ value }) => value) }],
      figures: [
        { name: 'RMS of all', value: total, unit: 'λ' },
        { name: 'left by the terms', value: residual, unit: 'λ' },
      ],
    };
    const table: TablePanel = {
      kind: 'table',
      title: 'coefficients',
      columns: [
        { title: 'term', unit: '' },
        { title: 'order of rays', unit: '' },
        { title: 'W', unit: 'λ' },
      ],
      rows: terms.map((term) => [name(term), term.k + term.l - 1, term.value]),
    };
    const largest = [...terms].sort((a, b) => Math.abs(b.value) - Math.abs(a.value))[0];
    return success({
      panels: [bars, table],
      about: [
        waveWords(lens, wave.value),
        `${detail === 'draft' ? 5 : 9} fields, 12 × 24 rays each`,
        ...pupilWords(lens, 'full'),
      ],
      words: [
        `${name(largest)} is the largest, ${signed(largest.value)} λ at the edge of pupil and field.`,
        ...balances(terms, name),
      ],
    });
  },
});

const signed = (value: number) => value.toFixed(2).replace('-', '−');

/** Sentences on terms that work against the next order of the same kind. */
function balances<T extends { k: number; l: number; m: number; value: number }>(
  terms: readonly T[],
  name: (term: T) => string,
): string[] {
  return terms.flatMap((low) => {
    const high = terms.find(
      ({ k, l, m }) =>
        m === low.m &&
        ((k === low.k && l === low.l + 2) || (k === low.k + 2 && l === low.l)) &&
        k + l === 6 &&
        low.k + low.l === 4,
    );
    if (
      !high ||
      low.value * high.value >= 0 ||
      Math.abs(high.value) < 0.3 * Math.abs(low.value) ||
      Math.abs(low.value) < 0.05
    )
      return [];
    return [`${name(low)} (${signed(low.value)} λ) is balanced by ${name(high)} (${signed(high.value)} λ).`];
  });
}

export const gaussianBeam = defineAnalysis({
  id: 'gaussian_beam',
  title: 'Gaussian beam',
  topic: 'theory',
  question: 'Where does a laser beam have its waist?',
  meaning:
    'A round Gaussian beam along the axis, paraxial: radius (1/e² of the irradiance) along the way, ' +
    'waists, wavefront radii, and the share of the power inside of each semi-aperture. M² counts as a ' +
    'longer wavelength. Its waist lies so far before the first vertex.',
  wide: true,
  settings: {
    waist: { kind: 'number', title: 'Waist radius', unit: 'mm', min: 1e-6, max: 1e4, fallback: 1 },
    before: { kind: 'number', title: 'Waist before the lens', unit: 'mm', min: -1e6, max: 1e7, fallback: 0 },
    m2: { kind: 'number', title: 'M²', unit: '', min: 1, max: 1000, fallback: 1 },
    colour: ONE_COLOUR,
  },
  exact: true,
  // eslint-disable-next-line require-yield -- nothing to wait for
  *evaluate(lens, settings) {
    const wave = waveOf(lens, settings.colour);
    if (!wave.ok) return wave;
    const steps = beamThroughLens(lens, wave.value!, settings);
    if (!steps.ok) return steps;
    const { nm } = lens.model.wavelengths[wave.value!];
    const table: TablePanel = {
      kind: 'table',
      title: 'by surface',
      columns: [
        { title: 'surface', unit: '', ids: true },
        { title: 'radius', unit: 'mm' },
        { title: 'wavefront behind', unit: 'mm' },
        { title: 'waist behind', unit: 'mm' },
        { title: 'to it', unit: 'mm' },
        { title: 'Rayleigh', unit: 'mm' },
        { title: 'inside', unit: '%' },
      ],
      rows: steps.value.map(({ surface, radius, curvature, behind, inside }) => [
        surface,
        radius,
        curvature,
        behind.waist,
        behind.toWaist,
        behind.rayleigh,
        100 * inside,
      ]),
    };
    return success({
      panels: [beamPanel(steps.value, nm), table],
      about: [
        waveWords(lens, wave.value),
        `waist ${settings.waist} mm, ${settings.before} mm before the lens`,
        `M² ${settings.m2}`,
        'paraxial, round',
      ],
    });
  },
});

/** The radius of a round beam along the lens, on both sides of the axis. */
function beamPanel(steps: readonly BeamStep[], nm: number): CurvePanel {
  const [x, y]: [number[], number[]] = [[], []];
  for (const { at, gap, behind } of steps.slice(0, -1))
    for (let k = 0; k <= 24; k++) {
      x.push(at + (gap * k) / 24);
      y.push(beamAt(behind, (gap * k) / 24).radius);
    }
  const most = Math.max(...y);
  const [last, image] = steps.slice(-2);
  return {
    kind: 'curves',
    title: '',
    x: { title: 'from the first vertex', unit: 'mm' },
    y: { title: 'radius 1/e²', unit: 'mm' },
    curves: [
      { name: 'beam', tint: { nm }, x, y },
      { name: 'other side', tint: { nm }, x, y: y.map((value) => -value) },
      ...steps.map(({ at }): Curve => ({
        name: 'surfaces',
        tint: 'limit',
        stroke: 'dotted',
        x: [at, at],
        y: [-most, most],
      })),
    ],
    figures: [
      { name: 'last waist', value: last.behind.waist, unit: 'mm' },
      { name: 'from the last surface', value: last.behind.toWaist, unit: 'mm' },
      { name: 'radius at the image', value: image.radius, unit: 'mm' },
    ],
  };
}

export const ellipticalBeam = defineAnalysis({
  id: 'elliptical_beam',
  title: 'Elliptical beam',
  topic: 'theory',
  question: 'What becomes of a laser beam that is not round?',
  meaning:
    'A Gaussian beam of two principal sections along the chief ray of a field, through tilted surfaces, ' +
    'cylinders and freeforms too: half widths (1/e² of the irradiance) along x and y on the way; half ' +
    'axes and turn of the ellipse at each surface. Behind skew surfaces the ellipse turns as it goes. ' +
    'Paraxial about the ray; M² counts as a longer wavelength.',
  wide: true,
  settings: {
    field: { kind: 'field', title: 'Along', also: ['optical axis'], fallback: 'optical axis' },
    waist_x: { kind: 'number', title: 'Waist radius x', unit: 'mm', min: 1e-6, max: 1e4, fallback: 1 },
    waist_y: { kind: 'number', title: 'Waist radius y', unit: 'mm', min: 1e-6, max: 1e4, fallback: 0.5 },
    before_x: { kind: 'number', title: 'Waist x before the lens', unit: 'mm', min: -1e6, max: 1e7, fallback: 0 },
    before_y: { kind: 'number', title: 'Waist y before the lens', unit: 'mm', min: -1e6, max: 1e7, fallback: 0 },
    turn: { kind: 'number', title: 'Turned by', unit: '°', min: -180, max: 180, fallback: 0 },
    m2: { kind: 'number', title: 'M²', unit: '', min: 1, max: 1000, fallback: 1 },
    colour: ONE_COLOUR,
  },
  exact: true,
  // eslint-disable-next-line require-yield -- nothing to wait for
  *evaluate(lens, settings) {
    const wave = waveOf(lens, settings.colour);
    if (!wave.ok) return wave;
    const axis = settings.field === 'optical axis';
    const field = axis ? success({ id: 'optical_axis', x: 0, y: 0, weight: 1 }) : lens.field(settings.field);
    if (!field.ok) return field;
    const { waist_x, waist_y, before_x, before_y, turn, m2 } = settings;
    const found = beamAlongRay(lens, field.value, wave.value!, {
      waists: [waist_x, waist_y],
      before: [before_x, before_y],
      turn,
      m2,
    });
    if (!found.ok) return found;
    const { along, x, y, places, sections } = found.value;
    const most = Math.max(...x, ...y);
    const { nm } = lens.model.wavelengths[wave.value!];
    const { ellipse } = sections.at(-1)!;
    const panel: CurvePanel = {
      kind: 'curves',
      title: '',
      x: { title: 'way along the ray', unit: 'mm' },
      y: { title: 'half width 1/e²', unit: 'mm' },
      curves: [
        ...places.map((at): Curve => ({
          name: 'surfaces',
          tint: 'limit',
          stroke: 'dotted',
          x: [at, at],
          y: [0, most],
        })),
        { name: 'along y', tint: { nm }, x: along, y },
        { name: 'along x', tint: 'ink', stroke: 'dashed', x: along, y: x },
      ],
      figures: [
        { name: 'larger radius at the image', value: ellipse.radii[0], unit: 'mm' },
        { name: 'smaller', value: ellipse.radii[1], unit: 'mm' },
        { name: 'turned by', value: ellipse.turn, unit: '°' },
      ],
    };
    const table: TablePanel = {
      kind: 'table',
      title: 'by surface',
      columns: [
        { title: 'surface', unit: '', ids: true },
        { title: 'larger radius', unit: 'mm' },
        { title: 'smaller radius', unit: 'mm' },
        { title: 'turned by', unit: '°' },
      ],
      rows: sections.map(({ surface, ellipse: { radii, turn: by } }) => [surface, radii[0], radii[1], by]),
    };
    return success({
      panels: [panel, table],
      about: [
        waveWords(lens, wave.value),
        axis ? 'along the optical axis' : `along the chief ray of ${field.value.id}`,
        'y full, x dashed',
        `M² ${m2}`,
      ],
    });
  },
});
