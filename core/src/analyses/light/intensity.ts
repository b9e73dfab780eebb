import { success } from '../../math/outcome.ts';
import { defineSceneAnalysis } from '../analysis.ts';
import type { Curve, Figure, Panel } from '../panels.ts';
import { countsOf, DETECTOR, LIGHT, mapOf, RAYS, SOURCE, type CellMap } from './detector.ts';
import { densityTitle } from './maps.ts';

const radians = (degrees: number) => (degrees * Math.PI) / 180;

/** The value of a map at a place, by straight lines between the middles of its cells; NaN beside it. */
function between({ values, columns, rows, x, y }: CellMap, px: number, py: number): number {
  const place = ([from, to]: readonly [number, number], at: number, count: number) =>
    Math.min(count - 1, Math.max(0, ((at - from) / (to - from)) * count - 0.5));
  if (px < x[0] || px > x[1] || py < y[0] || py > y[1]) return NaN;
  const [u, v] = [place(x, px, columns), place(y, py, rows)];
  const [i, j] = [Math.min(columns - 2, Math.floor(u)), Math.min(rows - 2, Math.floor(v))];
  const at = (a: number, b: number) => values[Math.max(0, b) * columns + Math.max(0, a)];
  const mix = (a: number, b: number, share: number) => a + share * (b - a);
  return mix(mix(at(i, j), at(i + 1, j), u - i), mix(at(i, j + 1), at(i + 1, j + 1), u - i), v - j);
}

/** Intensity over the angle to the axis, in the plane through it that is turned by `plane` from x toward y. */
function planeCurve(map: CellMap, plane: number, angles: readonly number[]): number[] {
  const [c, s] = [Math.cos(radians(plane)), Math.sin(radians(plane))];
  return angles.map((angle) => {
    const sine = Math.sin(radians(angle));
    const degrees = 180 / Math.PI;
    return between(map, Math.atan2(sine * c, Math.cos(radians(angle))) * degrees, Math.asin(sine * s) * degrees);
  });
}

/**
 * Half of the angle between both places where a curve falls to a share of its peak; NaN where it does not.
 *
 * Noise makes the largest of many values too large and the first crossing too near: the curve is averaged over an eighth of that angle first.
 */
export function halfAngle(angles: readonly number[], values: readonly number[], share: number): number {
  const rough = crossings(angles, values, share);
  if (Number.isNaN(rough)) return NaN;
  const step = (angles[angles.length - 1] - angles[0]) / (angles.length - 1);
  const reach = Math.round(rough / 16 / step);
  return reach === 0 ? rough : crossings(angles, averaged(values, reach), share);
}

/** Means over so many values to either side, fewer at the ends. */
function averaged(values: readonly number[], reach: number): number[] {
  return values.map((_, k) => {
    const near = values.slice(Math.max(0, k - reach), k + reach + 1).filter((value) => !Number.isNaN(value));
    return near.reduce((sum, value) => sum + value, 0) / near.length;
  });
}

function crossings(angles: readonly number[], values: readonly number[], share: number): number {
  let top = 0;
  values.forEach((value, k) => (top = value > (values[top] || 0) ? k : top));
  const level = share * values[top];
  const edge = (way: 1 | -1) => {
    for (let k = top; k + way >= 0 && k + way < values.length; k += way) {
      const [a, b] = [values[k], values[k + way]];
      if (b < level && a >= level) return angles[k] + ((a - level) / (a - b)) * (angles[k + way] - angles[k]);
    }
    return NaN;
  };
  return (edge(1) - edge(-1)) / 2;
}

export const intensity = defineSceneAnalysis({
  id: 'intensity',
  title: 'Intensity by angle',
  topic: 'light',
  question: 'Where does the lamp throw its light?',
  meaning:
    'Intensity over the angle to the axis of a far-field detector, in the plane that is turned by the chosen angle from x ' +
    'toward y and in the one across. Half-angle: half of the angle between both directions with a half, or a tenth, of ' +
    'the peak in that plane.',
  settings: {
    detector: DETECTOR,
    light: LIGHT,
    source: SOURCE,
    plane: { kind: 'number', title: 'Plane', unit: '°', min: 0, max: 180, fallback: 0 },
    view: { kind: 'choice', title: 'Shown as', options: ['curves', 'polar'], fallback: 'curves' },
    by: { kind: 'integer', title: 'Cells taken together', min: 1, max: 50, fallback: 1 },
    rays: RAYS,
  },
  *evaluate(scene, settings, detail) {
    const found = yield* countsOf(
      scene,
      settings,
      detail,
      ({ chart }) => chart.kind === 'directions',
      'far-field detector',
    );
    if (!found.ok) return found;
    const { units, numbers, about } = found.value;
    const map = mapOf(found.value, 0, settings.by);
    const widest = Math.max(map.x[1], map.y[1]);
    const steps = 4 * Math.max(map.columns, map.rows);
    const angles = Array.from({ length: steps + 1 }, (_, k) => -widest + (2 * widest * k) / steps);
    const planes = [settings.plane, (settings.plane + 90) % 180];
    const lines = planes.map((plane) => planeCurve(map, plane, angles));
    const figures: Figure[] = [
      { name: 'peak', value: numbers.peak.value, error: numbers.peak.standardError, unit: units.density },
      { name: 'flux', value: numbers.flux.value, error: numbers.flux.standardError, unit: units.flux },
      ...planes.flatMap((plane, k) =>
        [0.5, 0.1].map((share) => ({
          name: `half-angle at ${100 * share} %, plane ${plane}°`,
          value: halfAngle(angles, lines[k], share),
          unit: '°',
        })),
      ),
    ];
    const named = (k: number): Pick<Curve, 'name' | 'tint' | 'stroke'> => ({
      name: `plane ${planes[k]}°`,
      tint: 'ink',
      ...(k === 1 && { stroke: 'dashed' as const }),
    });
    const title = densityTitle(units.density);
    const panel: Panel =
      settings.view === 'polar'
        ? { ...polar(angles, lines, named, title, units.density), figures }
        : {
            kind: 'curves',
            title,
            x: { title: 'angle to the axis', unit: '°', range: [-widest, widest] },
            y: {
              title,
              unit: units.density,
              range: [0, 1.05 * Math.max(...lines.flat().filter((value) => value > 0), 1e-12)],
            },
            curves: lines.map((y, k) => ({ ...named(k), x: angles, y })),
            figures,
          };
    return success({ panels: [panel], about: [...about, `${map.columns} × ${map.rows} cells`] });
  },
});

const RINGS = [0.25, 0.5, 0.75, 1] as const;

/** Curves about the middle: the distance is the intensity, up is the axis. */
function polar(
  angles: readonly number[],
  lines: readonly (readonly number[])[],
  named: (k: number) => Pick<Curve, 'name' | 'tint' | 'stroke'>,
  title: string,
  unit: string,
): Extract<Panel, { kind: 'dots' }> {
  const top = Math.max(...lines.flat().filter((value) => value > 0), 1e-12);
  const round = Array.from({ length: 73 }, (_, k) => radians(5 * k));
  return {
    kind: 'dots',
    title,
    x: { title: `${title} across`, unit, range: [-top, top] },
    y: { title: `${title} along the axis`, unit, range: [-top, top] },
    groups: [],
    outlines: [
      ...lines.map((line, k): Curve => {
        const seen = angles
          .map((angle, i) => [radians(angle), line[i]] as const)
          .filter(([, value]) => !Number.isNaN(value));
        return {
          ...named(k),
          x: seen.map(([angle, value]) => value * Math.sin(angle)),
          y: seen.map(([angle, value]) => value * Math.cos(angle)),
        };
      }),
      ...RINGS.map((share): Curve => ({
        name: `${100 * share} %`,
        tint: 'limit',
        stroke: 'dotted',
        x: round.map((angle) => share * top * Math.sin(angle)),
        y: round.map((angle) => share * top * Math.cos(angle)),
      })),
    ],
  };
}
