import { lensFindings } from '../imaging/evaluation/findings.ts';
import { edgeThickness, leastClearance, steepestSlope, surfaceMargin } from '../imaging/evaluation/making.ts';
import { success } from '../math/outcome.ts';
import { defineMeasure } from './measure.ts';

const SURFACE = { surface: { kind: 'id', title: 'Surface', fallback: '' } } as const;

export const leastClearanceMeasure = defineMeasure({
  id: 'least_clearance',
  title: 'Least clearance',
  unit: 'mm',
  meaning:
    'Least distance along the axis from a surface to the next, the way light goes, over the smaller of ' +
    'both semi-apertures: the centre or edge thickness of glass and air; negative where surfaces cross. ' +
    'Without a surface, the least of all.',
  settings: SURFACE,
  evaluate(lens, { surface }) {
    const least = leastClearance(lens, surface);
    if (!least.ok) return least;
    const { value, surface: where, height } = least.value;
    return success({ value, how: `after ${where}, ${height.toPrecision(3)} mm from the axis` });
  },
});

export const edgeThicknessMeasure = defineMeasure({
  id: 'edge_thickness',
  title: 'Edge thickness',
  unit: 'mm',
  meaning:
    'Distance along the axis from a surface to the next at the rim: of glass at the larger of both ' +
    'semi-apertures, of air at the smaller; negative where surfaces cross.',
  settings: { surface: { kind: 'surface', title: 'Behind', also: [], fallback: '' } },
  evaluate(lens, { surface }) {
    const edge = edgeThickness(lens, surface || (lens.model.surfaces[0]?.id ?? ''));
    return edge.ok ? success({ value: edge.value }) : edge;
  },
});

export const steepestSlopeMeasure = defineMeasure({
  id: 'steepest_slope',
  title: 'Steepest slope',
  unit: '°',
  meaning:
    'Steepest slope of a surface against its vertex plane within its semi-aperture. Without a surface, the steepest of all.',
  settings: SURFACE,
  evaluate(lens, { surface }) {
    const steepest = steepestSlope(lens, surface);
    if (!steepest.ok) return steepest;
    const { value, surface: where, height } = steepest.value;
    return success({ value, how: `on ${where}, ${height.toPrecision(3)} mm from its axis` });
  },
});

export const surfaceMarginMeasure = defineMeasure({
  id: 'surface_margin',
  title: 'Surface margin',
  unit: '%',
  meaning:
    'How much further out than its semi-aperture a surface still exists, over the semi-aperture: negative ' +
    'where a conic or a grid ends too early. Without a surface, the least of all that end.',
  settings: SURFACE,
  evaluate(lens, { surface }) {
    const margin = surfaceMargin(lens, surface);
    if (!margin.ok) return margin;
    return success({ value: margin.value.value * 100, how: `on ${margin.value.surface}` });
  },
});

export const findingsMeasure = defineMeasure({
  id: 'findings',
  title: 'Findings',
  unit: '',
  meaning:
    'How many things are found wrong with the lens as it stands: rays that end, surfaces that cross or do ' +
    'not exist, media without an index. Errors, warnings or both; at one surface, or anywhere.',
  settings: {
    count: { kind: 'choice', title: 'Count', options: ['errors', 'warnings', 'both'], fallback: 'errors' },
    ...SURFACE,
  },
  evaluate(lens, { count, surface }) {
    const found = lensFindings(lens).filter(
      ({ severity, where }) => (count === 'both' || `${severity}s` === count) && (surface === '' || where === surface),
    );
    return success({ value: found.length, ...(found[0] && { how: found[0].text }) });
  },
});
