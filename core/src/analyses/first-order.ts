import { wavelengthLabel } from '../light/spectral-lines.ts';
import { surfaceScale } from '../imaging/field/image-scale.ts';
import type { LensEvaluation } from '../imaging/evaluation/lens-evaluation.ts';
import { success } from '../math/outcome.ts';
import type { FirstOrder } from '../sequence/paraxial.ts';
import { defineAnalysis } from './analysis.ts';
import type { TablePanel } from './panels.ts';

/** Digits that a column holds. */
const DIGITS = 6;

interface Line {
  readonly title: string;
  /** What it is in a sentence's beginning. */
  readonly meaning: string;
  read(data: FirstOrder): number | null;
}

const LINES: readonly Line[] = [
  { title: 'focal length', meaning: '1/Φ', read: (d) => d.focalLength },
  { title: 'back focal distance', meaning: 'last vertex to rear focus', read: (d) => d.backFocalDistance },
  { title: 'image distance', meaning: 'last vertex to the paraxial image', read: (d) => d.imageDistance },
  { title: 'working F-number', meaning: '1/(2 n′|u′|)', read: (d) => d.workingFNumber },
  {
    title: 'paraxial magnification',
    meaning: 'image over object height in the paraxial image',
    read: (d) => d.magnification,
  },
  { title: 'entrance pupil at', meaning: 'from the first vertex', read: (d) => d.entrancePupil },
  { title: 'entrance pupil ⌀', meaning: 'diameter', read: (d) => d.entrancePupilDiameter },
  { title: 'exit pupil at', meaning: 'from the last vertex', read: (d) => d.exitPupil },
  { title: 'exit pupil ⌀', meaning: 'diameter', read: (d) => d.exitPupilDiameter },
  {
    title: 'stop semi-aperture',
    meaning: 'paraxial marginal height there',
    read: (d) => d.stopSemiAperture,
  },
];

export const firstOrderTable = defineAnalysis({
  id: 'first_order',
  title: 'First order',
  topic: 'lens',
  question: 'Where are pupils and foci?',
  meaning: `Paraxial, by wavelength. ${LINES.map(({ title, meaning }) => `${title}: ${meaning}`).join('; ')}.`,
  narrow: true,
  settings: {},
  exact: true,
  atOnce: true,
  // eslint-disable-next-line require-yield -- drawn at once
  *evaluate(lens) {
    const { wavelengths, primary } = lens.model;
    const columns = wavelengths.map(({ nm }, wave) => ({ nm, data: lens.firstOrder(wave) }));
    const read = ({ read: of }: Line) => columns.map(({ data }) => (data.ok ? of(data.value) : null));
    const rows = LINES.flatMap((line) => {
      const values = read(line);
      return values.some((value) => value !== null) ? [[line.title, ...values.map(orBlank)]] : [];
    });
    const table: TablePanel = {
      kind: 'table',
      title: 'first order',
      columns: [
        { title: '', unit: '' },
        ...columns.map(({ nm }, wave) => ({
          title: wavelengthLabel(nm),
          unit: '',
          digits: DIGITS,
          ...(wave === primary && { strong: true }),
        })),
      ],
      rows: [...rows, ...inUse(lens)],
    };
    const failed = columns.find(({ data }) => !data.ok)?.data;
    return success({
      panels: rows.length > 0 ? [table] : [],
      missing: failed && !failed.ok ? [failed.reason] : [],
      about: ['paraxial, by wavelength', 'mm'],
    });
  },
});

const orBlank = (value: number | null) => value ?? '–';

/** What the image surface in use shows, of the primary colour. */
function inUse(lens: LensEvaluation): (string | number)[][] {
  const scale = surfaceScale(lens);
  if (!scale.ok) return [];
  const { wavelengths, primary } = lens.model;
  const only = (value: number) => wavelengths.map((_, wave) => (wave === primary ? value : ''));
  const { kind, value, edge } = scale.value;
  return [[`${kind} in use`, ...only(value)], ...(edge === null ? [] : [['at the largest field', ...only(edge)]])];
}
