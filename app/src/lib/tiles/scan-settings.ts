import {
  findMeasure,
  findParameter,
  isOfScene,
  type Lens,
  type MeasureRequest,
  type Project,
  type ScanAxis,
} from '@ulvex/core';

/** One number that a scan turns, over even steps. */
export interface ScanRange {
  readonly address: string;
  readonly from: number;
  readonly to: number;
  readonly points: number;
}

/** What a scan turns, one number or two, and what it measures. */
export interface ScanSettings {
  readonly axes: readonly ScanRange[];
  readonly measures: readonly { readonly measure: string; readonly settings: Readonly<Record<string, unknown>> }[];
}

export const MOST_POINTS = 501;
export const MOST_MEASURES = 3;
const FIRST_POINTS = 21;

/** Settings as a project may hold them; what is not legal falls away, and an empty scan turns the last distance. */
export function scanSettings(stored: unknown, project: Project, lens: Lens | null): ScanSettings {
  const given = (typeof stored === 'object' && stored !== null ? stored : {}) as { axes?: unknown; measures?: unknown };
  const list = (value: unknown) => (Array.isArray(value) ? (value as unknown[]) : []);
  const axes = list(given.axes)
    .flatMap((one) => readRange(one, project))
    .slice(0, 2);
  const measures = list(given.measures)
    .flatMap((one) => {
      const { measure, settings } = (one ?? {}) as { measure?: unknown; settings?: unknown };
      if (typeof measure !== 'string' || !findMeasure(measure)) return [];
      const own = typeof settings === 'object' && settings !== null ? (settings as Record<string, unknown>) : {};
      return [{ measure, settings: own }];
    })
    .slice(0, MOST_MEASURES);
  const last = lens?.surfaces.at(-2);
  const first = lens && last && findParameter(project, `lenses.${lens.id}.surfaces.${last.id}.thickness`);
  return {
    axes: axes.length > 0 ? axes : first?.ok ? [rangeAbout(first.value.address, first.value.value, 0.002)] : [],
    measures: measures.length > 0 ? measures : [{ measure: 'rms_spot_radius', settings: {} }],
  };
}

function readRange(one: unknown, project: Project): ScanRange[] {
  const { address, from, to, points } = (one ?? {}) as Partial<Record<keyof ScanRange, unknown>>;
  if (typeof address !== 'string' || !findParameter(project, address).ok) return [];
  const range = { address, from: Number(from), to: Number(to), points: Number(points) };
  return rangeTrouble(range) === null ? [range] : [];
}

/** A range about a value, by a share of it. */
export function rangeAbout(address: string, value: number, share = 0.1): ScanRange {
  const reach = value === 0 || !Number.isFinite(value) ? 1 : Math.abs(value) * share;
  const middle = Number.isFinite(value) ? value : 0;
  const round = (x: number) => Number(x.toPrecision(6));
  return { address, from: round(middle - reach), to: round(middle + reach), points: FIRST_POINTS };
}

/** What is wrong with a range, in a sentence; null where nothing is. */
export function rangeTrouble({ from, to, points }: ScanRange): string | null {
  if (!Number.isFinite(from) || !Number.isFinite(to)) return 'A scan goes from a number to a number.';
  if (from === to) return 'The two ends of a scan differ.';
  return Number.isInteger(points) && points >= 2 && points <= MOST_POINTS
    ? null
    : `A scan has from 2 to ${MOST_POINTS} points.`;
}

/** The values that a range stands for. */
export function scanAxis({ address, from, to, points }: ScanRange): ScanAxis {
  return {
    address,
    values: Array.from({ length: points }, (_, k) => from + ((to - from) * k) / (points - 1)),
  };
}

/** The measures of a scan as they are asked for, of the lens or of the first scene. */
export function scanRequests({ measures }: ScanSettings, project: Project, lens: Lens): MeasureRequest[] {
  return measures.map(({ measure, settings }) => {
    const found = findMeasure(measure);
    const subject = found && isOfScene(found) ? (project.scenes?.[0]?.id ?? '') : lens.id;
    return { measure, lens: subject, settings };
  });
}
