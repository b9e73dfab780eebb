import { fitLeastSquares } from '../math/linear-fit.ts';
import { failure, success } from '../math/outcome.ts';
import { fringeIndex, nollIndex, type ZernikeOrder } from '../math/zernike.ts';
import { wavefront, wavefrontNumbers, type Wavefront } from '../imaging/wavefront/wavefront.ts';
import { zernikeFit } from '../imaging/wavefront/zernike-fit.ts';
import {
  ALL_FIELDS,
  defineAnalysis,
  fieldsOf,
  ONE_COLOUR,
  ONE_FIELD,
  PUPIL,
  pupilWords,
  waveOf,
  waveWords,
} from './analysis.ts';
import type { MapPanel } from './panels.ts';

const CELLS = { draft: 33, full: 65 } as const;
const REMOVED = { nothing: 0, tilt: 3, 'tilt and focus': 4 } as const;

/** Takes the best piston, tilt and focus off a wavefront, as many of them as are asked for. */
function without({ points: { px, py, weight }, w }: Wavefront, terms: number): Float64Array {
  if (terms === 0) return w;
  const alive = [...w.keys()].filter((i) => !Number.isNaN(w[i]));
  const row = (i: number) => [1, px[i], py[i], px[i] * px[i] + py[i] * py[i]].slice(0, terms);
  const c = fitLeastSquares(
    alive.map(row),
    alive.map((i) => w[i]),
    alive.map((i) => weight[i]),
  );
  return c ? w.map((value, i) => value - row(i).reduce((sum, term, k) => sum + term * c[k], 0)) : w;
}

export const wavefrontMap = defineAnalysis({
  id: 'wavefront_map',
  inAngle: true,
  title: 'Wavefront map',
  topic: 'wavefront',
  question: 'What shape has the error?',
  meaning:
    'W over the pupil at the reference sphere about the chief ray’s image point, in waves, positive where ' +
    'the wavefront leads. Interferogram: bright where W, with the tilt asked for, is a whole number. Tilt ' +
    'and focus are the best ones, taken off by least squares.',
  wide: true,
  settings: {
    field: ALL_FIELDS,
    colour: ONE_COLOUR,
    look: { kind: 'choice', title: 'As', options: ['map', 'interferogram'], fallback: 'map' },
    off: { kind: 'choice', title: 'Taken off', options: Object.keys(REMOVED), fallback: 'nothing' },
    fringes: { kind: 'number', title: 'Tilt fringes', unit: 'λ', min: -50, max: 50, fallback: 0 },
    pupil: PUPIL,
  },
  *evaluate(lens, settings, detail) {
    const fields = fieldsOf(lens, settings.field);
    const wave = waveOf(lens, settings.colour);
    if (!fields.ok) return fields;
    if (!wave.ok) return wave;
    const size = CELLS[detail];
    const pupil = settings.pupil === 'clipped' ? 'clipped' : 'full';
    const interferogram = settings.look === 'interferogram';
    const panels: MapPanel[] = [];
    const missing: string[] = [];
    for (const field of fields.value) {
      const front = wavefront(lens, field, wave.value!, { sampling: { kind: 'grid', size }, pupil });
      yield;
      if (!front.ok) {
        missing.push(front.reason);
        continue;
      }
      const { px, py } = front.value.points;
      const w = without(front.value, REMOVED[settings.off as keyof typeof REMOVED]);
      const numbers = wavefrontNumbers({ ...front.value, w });
      const values = new Float64Array(size * size).fill(NaN);
      px.forEach((x, i) => {
        const [column, row] = [x, py[i]].map((p) => Math.round(((p + 1) * size) / 2 - 0.5));
        // Over a pupil two fringes of tilt are one wave on each side of its middle.
        values[row * size + column] = interferogram ? w[i] + (settings.fringes / 2) * py[i] : w[i];
      });
      const largest = w.reduce((a, b) => (Number.isNaN(b) ? a : Math.max(a, Math.abs(b))), 0);
      const axis = (title: string) => ({ title, unit: '', range: [-1, 1] as const });
      panels.push({
        kind: 'map',
        title: field.id,
        columns: size,
        rows: size,
        values,
        x: axis('pupil x'),
        y: axis('pupil y'),
        value: { title: 'W', unit: 'λ', range: [-largest, largest] },
        look: interferogram ? 'fringes' : 'signed',
        figures: [
          { name: 'RMS', value: numbers.rms, unit: 'λ' },
          { name: 'P–V', value: numbers.peakToValley, unit: 'λ' },
          { name: 'Strehl', value: numbers.strehl, unit: '' },
        ],
      });
    }
    if (panels.length === 0) return failure(missing[0]);
    return success({
      panels,
      about: [
        waveWords(lens, wave.value),
        `${size} × ${size} cells`,
        settings.off === 'nothing' ? 'tilt and focus kept' : `${settings.off} taken off`,
        ...pupilWords(lens, pupil),
        ...missing,
      ],
    });
  },
});

const NAMES: Readonly<Record<string, string>> = {
  '0 0': 'piston',
  '1 1': 'tilt',
  '2 0': 'focus',
  '2 2': 'astigmatism',
  '3 1': 'coma',
  '3 3': 'trefoil',
  '4 0': 'spherical',
  '4 2': 'second astigmatism',
  '4 4': 'fourfold',
  '5 1': 'second coma',
  '5 3': 'second trefoil',
  '6 0': 'second spherical',
  '8 0': 'third spherical',
};

/** What a term is called: its aberration and direction, or its degree and frequency. */
function termName(order: ZernikeOrder, j: number): string {
  const { n, m } = order === 'noll' ? nollIndex(j) : fringeIndex(j);
  const name = NAMES[`${n} ${Math.abs(m)}`] ?? `n ${n}, m ${Math.abs(m)}`;
  return m === 0 ? name : `${name}, ${m > 0 ? 'cos' : 'sin'}`;
}

export const zernikeTerms = defineAnalysis({
  id: 'zernike',
  inAngle: true,
  title: 'Zernike terms',
  topic: 'wavefront',
  question: 'Of what is the error made?',
  meaning:
    'The wavefront as a sum of Zernike polynomials, θ from +x, in waves, by least squares over the rays ' +
    'that arrive. Noll: orthonormal, so that squares sum up to the variance. Fringe: 1 at the rim. What ' +
    'they leave is told.',
  settings: {
    field: ONE_FIELD,
    colour: ONE_COLOUR,
    order: { kind: 'choice', title: 'Order', options: ['noll', 'fringe'], fallback: 'noll' },
    terms: { kind: 'integer', title: 'Terms', min: 4, max: 100, fallback: 16 },
    pupil: PUPIL,
  },
  exact: true,
  // eslint-disable-next-line require-yield -- a few milliseconds
  *evaluate(lens, settings) {
    const fields = fieldsOf(lens, settings.field);
    const wave = waveOf(lens, settings.colour);
    if (!fields.ok) return fields;
    if (!wave.ok) return wave;
    const order = settings.order === 'fringe' ? 'fringe' : 'noll';
    const [field] = fields.value;
    const front = wavefront(lens, field, wave.value!, {
      sampling: { kind: 'polar', rings: 24, arms: 48 },
      pupil: settings.pupil === 'clipped' ? 'clipped' : 'full',
    });
    if (!front.ok) return front;
    const fit = zernikeFit(front.value, order, settings.terms, 'fit');
    if (!fit.ok) return fit;
    const { coefficients, residual } = fit.value;
    const names = Array.from(coefficients, (_, k) => `${k + 1} ${termName(order, k + 1)}`);
    return success({
      panels: [
        {
          kind: 'bars',
          title: `${field.id} terms`,
          value: { title: 'coefficient', unit: 'λ' },
          names: names.slice(1),
          series: [
            {
              name: 'coefficient',
              tint: { field: lens.model.lens.fields.points.indexOf(field) },
              values: [...coefficients.slice(1)],
            },
          ],
          figures: [
            { name: 'left by the terms', value: residual, unit: 'λ RMS' },
            { name: 'piston', value: coefficients[0], unit: 'λ' },
          ],
        },
        {
          kind: 'table',
          title: 'terms',
          columns: [
            { title: 'term', unit: '' },
            { title: 'coefficient', unit: 'λ' },
          ],
          rows: names.map((name, k) => [name, coefficients[k]]),
        },
      ],
      about: [
        `${order === 'noll' ? 'Noll’s order, orthonormal' : 'fringe order, 1 at the rim'}`,
        waveWords(lens, wave.value),
        '24 × 48 rays',
        ...pupilWords(lens, settings.pupil),
      ],
    });
  },
});
