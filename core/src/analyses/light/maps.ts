import { success } from '../../math/outcome.ts';
import type { CellMap } from '../../scene/far-field.ts';
import { defineSceneAnalysis } from '../analysis.ts';
import type { Curve, CurvePanel, Figure } from '../panels.ts';
import { countsOf, DETECTOR, LIGHT, mapOf, middles, RAYS, SOURCE, type Counts } from './detector.ts';

const TITLES: Readonly<Record<string, string>> = {
  'W/sr': 'intensity',
  cd: 'intensity',
  lx: 'illuminance',
  'W/mm²': 'irradiance',
  'W/mm³': 'absorbed density',
  'lm/mm³': 'absorbed density',
};

/** What a density is called, by its unit. */
export function densityTitle(unit: string): string {
  return TITLES[unit] ?? 'density';
}

const fluxFigure = ({ numbers, units }: Counts): Figure => ({
  name: 'flux',
  value: numbers.flux.value,
  error: numbers.flux.standardError,
  unit: units.flux,
});

export const detectorMap = defineSceneAnalysis({
  id: 'detector_map',
  title: 'Light on a detector',
  topic: 'light',
  question: 'How does the light fall?',
  meaning:
    'The flux in each cell over its area, solid angle or volume, with the standard error of each cell under the ' +
    'cursor. All sources and wavelengths are counted apart: another unit, or the light of one source, needs no other ' +
    'trace. Cells taken together are less noisy.',
  tall: true,
  settings: {
    detector: DETECTOR,
    light: LIGHT,
    source: SOURCE,
    by: { kind: 'integer', title: 'Cells taken together', min: 1, max: 50, fallback: 1 },
    layer: { kind: 'integer', title: 'Layer of a block', min: 1, max: 1000, fallback: 1 },
    scale: { kind: 'choice', title: 'Scale', options: ['linear', 'logarithmic'], fallback: 'linear' },
    rays: RAYS,
  },
  *evaluate(scene, settings, detail) {
    const found = yield* countsOf(scene, settings, detail);
    if (!found.ok) return found;
    const counts = found.value;
    const { numbers, units, name } = counts;
    const map = mapOf(counts, settings.layer - 1, settings.by);
    const axis = (title: string, range: readonly [number, number]) => ({ title, unit: units.place, range });
    const round = units.place === '°';
    const estimate = (
      title: string,
      { value, standardError }: { value: number; standardError: number },
      unit: string,
    ) => ({
      name: title,
      value,
      error: standardError,
      unit,
    });
    return success({
      panels: [
        {
          kind: 'map',
          title: name,
          columns: map.columns,
          rows: map.rows,
          values: map.values,
          errors: map.errors,
          x: axis(round ? 'azimuth' : 'x', map.x),
          y: axis(round ? 'elevation' : 'y', map.y),
          value: { title: densityTitle(units.density), unit: units.density },
          look: 'heat',
          log: settings.scale === 'logarithmic',
          figures: [
            fluxFigure(counts),
            counts.efficiency,
            estimate('mean', numbers.mean, units.density),
            estimate('peak', numbers.peak, units.density),
            estimate('RMS radius', numbers.rmsRadius, units.place),
          ],
        },
      ],
      about: [
        ...counts.about,
        `${map.columns} × ${map.rows} cells${settings.by > 1 ? `, ${settings.by} × ${settings.by} together` : ''}`,
      ],
    });
  },
});

/** Where both lines of cells go through: the column and row. */
function crossing(counts: Counts, map: CellMap, through: string): readonly [number, number] {
  const { columns, rows, values } = map;
  if (through === 'peak') {
    let best = 0;
    values.forEach((value, i) => (best = value > (values[best] || 0) ? i : best));
    return [best % columns, Math.floor(best / columns)];
  }
  const { centroidX, centroidY } = counts.numbers;
  const at = ([from, to]: readonly [number, number], place: number, count: number) =>
    Math.min(count - 1, Math.max(0, Math.floor(((place - from) / (to - from)) * count)));
  if (through === 'centroid') return [at(map.x, centroidX.value, columns), at(map.y, centroidY.value, rows)];
  return [columns >> 1, rows >> 1];
}

export const crossSections = defineSceneAnalysis({
  id: 'light_sections',
  title: 'Cross-sections of the light',
  topic: 'light',
  question: 'How even is it along a line?',
  meaning:
    'The density along a row and a column of cells, through the peak, the centroid or the middle of the map; dotted, one ' +
    'standard error to either side.',
  wide: true,
  settings: {
    detector: DETECTOR,
    light: LIGHT,
    source: SOURCE,
    through: { kind: 'choice', title: 'Through', options: ['centre', 'peak', 'centroid'], fallback: 'centre' },
    by: { kind: 'integer', title: 'Cells taken together', min: 1, max: 50, fallback: 1 },
    rays: RAYS,
  },
  *evaluate(scene, settings, detail) {
    const found = yield* countsOf(scene, settings, detail);
    if (!found.ok) return found;
    const counts = found.value;
    const { units } = counts;
    const map = mapOf(counts, 0, settings.by);
    const [column, row] = crossing(counts, map, settings.through);
    const names = units.place === '°' ? (['azimuth', 'elevation'] as const) : (['x', 'y'] as const);
    const panels = ([0, 1] as const).map((axis): CurvePanel => {
      const [range, count] = axis === 0 ? [map.x, map.columns] : [map.y, map.rows];
      const places = middles(range, count);
      const cell = (k: number) => (axis === 0 ? row * map.columns + k : k * map.columns + column);
      const line = (times: number) => places.map((_, k) => map.values[cell(k)] + times * map.errors[cell(k)]);
      const curve = (times: number): Curve => ({
        name: times === 0 ? 'density' : '± standard error',
        tint: times === 0 ? 'ink' : 'limit',
        ...(times !== 0 && { stroke: 'dotted' as const }),
        x: places,
        y: line(times),
      });
      const other = axis === 0 ? middles(map.y, map.rows)[row] : middles(map.x, map.columns)[column];
      return {
        kind: 'curves',
        title: `along ${names[axis]}, at ${names[1 - axis]} ${Number(other.toPrecision(4))} ${units.place}`,
        x: { title: names[axis], unit: units.place },
        y: {
          title: densityTitle(units.density),
          unit: units.density,
          range: [0, Math.max(...map.values.filter((v) => v > 0)) * 1.05],
        },
        curves: [curve(0), curve(-1), curve(1)],
      };
    });
    return success({ panels, columns: 2, about: counts.about });
  },
});
