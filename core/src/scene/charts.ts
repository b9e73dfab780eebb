import { MAP_CYLINDER, MAP_FLAT, MAP_SPHERE, mapX, mapY, placeOnMap } from '../physics/cells.ts';
import type { Chart } from '../detectors/cells.ts';
import type { Detector } from '../project/scene.ts';

const KINDS = {
  flat: MAP_FLAT,
  volume: MAP_FLAT,
  cylinder: MAP_CYLINDER,
  sphere: MAP_SPHERE,
  directions: MAP_SPHERE,
} as const;

/** The kind of its map, and the radius it is laid out with: see `placeOnMap`. */
export function mapOf(chart: Chart): { readonly kind: number; readonly radius: number } {
  return { kind: KINDS[chart.kind], radius: 'radius' in chart ? chart.radius : 1 };
}

/** Map coordinates of a place on a detector; writes x and y into `out`. */
export function mapPlace(chart: Chart, x: number, y: number, z: number, out: Float64Array): void {
  const { kind, radius } = mapOf(chart);
  placeOnMap(kind, radius, x, y, z);
  out[0] = mapX;
  out[1] = mapY;
}

/** Units of what a detector shows. */
export interface DetectorUnits {
  readonly flux: 'W' | 'lm';
  /** Of its map. */
  readonly density: string;
  /** What a density in flux a mm², sr or mm³ is multiplied by. */
  readonly scale: number;
  /** Of coordinates on its map. */
  readonly place: 'mm' | '°';
}

/** Units of a detector: W/mm² or lx, W/sr or cd, W/mm³ or lm/mm³. */
export function detectorUnits({ light }: Pick<Detector, 'light'>, { kind }: Chart): DetectorUnits {
  const photometric = light === 'photometric';
  const flux = photometric ? 'lm' : 'W';
  const place = kind === 'directions' || kind === 'sphere' ? '°' : 'mm';
  if (kind === 'directions') return { flux, density: photometric ? 'cd' : 'W/sr', scale: 1, place };
  if (kind === 'volume') return { flux, density: `${flux}/mm³`, scale: 1, place };
  return { flux, density: photometric ? 'lx' : 'W/mm²', scale: photometric ? 1e6 : 1, place };
}
