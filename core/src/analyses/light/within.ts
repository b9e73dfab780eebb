import { success } from '../../math/outcome.ts';
import { defineSceneAnalysis } from '../analysis.ts';
import type { Curve } from '../panels.ts';
import { countsOf, DETECTOR, LIGHT, mapOf, middles, RAYS, SOURCE, type Counts } from './detector.ts';
import { densityTitle } from './maps.ts';

/** Pieces of a cell along x and y: its light counts as spread evenly over it. */
const PIECES = 3;
const POINTS = 120;

/** Flux by distance from the centroid, of each piece of a cell: round and square distances. */
function pieces(counts: Counts): {
  readonly round: Float64Array;
  readonly square: Float64Array;
  readonly flux: Float64Array;
} {
  const { meter, counted, numbers, tally } = counts;
  const { columns, rows } = meter.detector;
  const { x, y } = meter.range;
  const [dx, dy] = [(x[1] - x[0]) / columns, (y[1] - y[0]) / rows];
  const lit: number[] = [];
  for (let cell = 0; cell < columns * rows; cell++) if (counted.sum[cell] > 0) lit.push(cell);
  const [round, square, flux] = [0, 1, 2].map(() => new Float64Array(lit.length * PIECES * PIECES));
  lit.forEach((cell, k) => {
    for (let i = 0; i < PIECES * PIECES; i++) {
      const px = x[0] + ((cell % columns) + ((i % PIECES) + 0.5) / PIECES) * dx - numbers.centroidX.value;
      const py =
        y[0] + (Math.floor(cell / columns) + (Math.floor(i / PIECES) + 0.5) / PIECES) * dy - numbers.centroidY.value;
      const at = k * PIECES * PIECES + i;
      round[at] = Math.hypot(px, py);
      square[at] = Math.max(Math.abs(px), Math.abs(py));
      flux[at] = counted.sum[cell] / tally.chunks / PIECES ** 2;
    }
  });
  return { round, square, flux };
}

/** Share of the flux within a distance, in equal steps of it; and the distance that holds a share. */
function enclosed(distances: Float64Array, flux: Float64Array, most: number) {
  const order = distances.map((_, k) => k).sort((a, b) => distances[a] - distances[b]);
  const whole = flux.reduce((sum, value) => sum + value, 0);
  const shares: number[] = [];
  let [sum, k] = [0, 0];
  const x = Array.from({ length: POINTS + 1 }, (_, i) => (most * i) / POINTS);
  for (const reach of x) {
    while (k < order.length && distances[order[k]] <= reach) sum += flux[order[k++]];
    shares.push(sum / whole);
  }
  const radius = (share: number) => {
    let within = 0;
    for (const i of order) if ((within += flux[i]) >= share * whole) return distances[i];
    return NaN;
  };
  return { x, y: shares, radius };
}

export const fluxWithin = defineSceneAnalysis({
  id: 'flux_within',
  title: 'Flux within a circle',
  topic: 'light',
  question: 'How much of it lands where it is wanted?',
  meaning:
    'Share of the flux on the map within a circle about its centroid, and within a square of that half side; the light of ' +
    'each cell counts as spread evenly over it.',
  settings: { detector: DETECTOR, light: LIGHT, source: SOURCE, rays: RAYS },
  *evaluate(scene, settings, detail) {
    const found = yield* countsOf(scene, settings, detail);
    if (!found.ok) return found;
    const counts = found.value;
    const { units } = counts;
    const { round, square, flux } = pieces(counts);
    const most = Math.max(...round);
    const [circle, box] = [enclosed(round, flux, most), enclosed(square, flux, most)];
    const curve = (name: string, { x, y }: { x: number[]; y: number[] }, dashed: boolean): Curve => ({
      name,
      tint: 'ink',
      ...(dashed && { stroke: 'dashed' as const }),
      x,
      y,
    });
    return success({
      panels: [
        {
          kind: 'curves',
          title: 'share within',
          x: { title: 'radius or half side', unit: units.place, range: [0, most] },
          y: { title: 'share of the flux', unit: '', range: [0, 1] },
          curves: [curve('circle', circle, false), curve('square', box, true)],
          figures: [0.5, 0.8, 0.95].map((share) => ({
            name: `radius of ${100 * share} %`,
            value: circle.radius(share),
            unit: units.place,
          })),
        },
      ],
      about: counts.about,
    });
  },
});

export const evenness = defineSceneAnalysis({
  id: 'evenness',
  title: 'Uniformity',
  topic: 'light',
  question: 'Is it even enough?',
  meaning:
    'Share of the area that is brighter than a value; and least over mean, largest over mean, spread over mean and contrast ' +
    '(largest − least)/(largest + least) of the cells within the chosen part of the map. With few rays a cell noise makes ' +
    'all of them worse: the mean error of a cell is shown.',
  settings: {
    detector: DETECTOR,
    light: LIGHT,
    source: SOURCE,
    part: { kind: 'integer', title: 'Middle part of the map, %', min: 5, max: 100, fallback: 100 },
    by: { kind: 'integer', title: 'Cells taken together', min: 1, max: 50, fallback: 1 },
    rays: RAYS,
  },
  *evaluate(scene, settings, detail) {
    const found = yield* countsOf(scene, settings, detail);
    if (!found.ok) return found;
    const counts = found.value;
    const { units } = counts;
    const map = mapOf(counts, 0, settings.by);
    const [xs, ys] = [middles(map.x, map.columns), middles(map.y, map.rows)];
    const inside = (places: number[], k: number, [from, to]: readonly [number, number]) =>
      Math.abs(places[k] - (from + to) / 2) <= ((to - from) / 2) * (settings.part / 100);
    const cells = Array.from(map.values.keys()).filter(
      (i) =>
        !Number.isNaN(map.values[i]) &&
        inside(xs, i % map.columns, map.x) &&
        inside(ys, Math.floor(i / map.columns), map.y),
    );
    const values = cells.map((i) => map.values[i]).sort((a, b) => b - a);
    const mean = values.reduce((sum, value) => sum + value, 0) / values.length;
    const spread = Math.sqrt(values.reduce((sum, value) => sum + (value - mean) ** 2, 0) / values.length);
    const noise = cells.reduce((sum, i) => sum + map.errors[i], 0) / cells.length;
    const [largest, least] = [values[0], values[values.length - 1]];
    const percent = (name: string, value: number) => ({ name, value: 100 * value, unit: '%' });
    return success({
      panels: [
        {
          kind: 'curves',
          title: 'share of the area that is brighter',
          x: { title: densityTitle(units.density), unit: units.density, range: [0, largest] },
          y: { title: 'share of the area', unit: '', range: [0, 1] },
          curves: [
            { name: 'cells', tint: 'ink', x: values, y: values.map((_, k) => (k + 1) / values.length) },
            { name: 'mean', tint: 'limit', stroke: 'dotted', x: [mean, mean], y: [0, 1] },
          ],
          figures: [
            percent('least/mean', least / mean),
            percent('largest/mean', largest / mean),
            percent('spread/mean', spread / mean),
            percent('contrast', (largest - least) / (largest + least)),
            percent('noise of a cell', noise / mean),
          ],
        },
      ],
      about: [...counts.about, `${values.length} cells`],
    });
  },
});
