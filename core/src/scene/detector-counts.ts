import { lumensPerWatt } from '../light/luminous.ts';
import { cellAt, mapX, mapY, placeOnMap } from '../physics/cells.ts';
import { mapOf } from './charts.ts';
import type { SceneModel } from './scene-model.ts';
import { MOMENTS, type TallySum } from './tally.ts';
import { depositAlong } from './volume-meter.ts';

/** A detector as its cells are found. */
interface Meter {
  readonly x: number;
  readonly y: number;
  /** Cells a unit of length or angle. */
  readonly across: number;
  readonly up: number;
  readonly columns: number;
  readonly rows: number;
  readonly photometric: boolean;
  /** How its map is laid: see `placeOnMap`. */
  readonly kind: number;
  readonly radius: number;
}

/** What the detectors of a scene count in one chunk of rays. */
export class DetectorCounts {
  readonly #detectors: SceneModel['detectors'];
  readonly #meters: readonly Meter[];
  readonly #lumens: Float64Array;
  readonly #maps: readonly Float64Array[];
  readonly #moments: readonly Float64Array[];
  readonly #hits: Float64Array;

  constructor({ detectors, waves }: Pick<SceneModel, 'detectors' | 'waves'>) {
    this.#detectors = detectors;
    this.#lumens = Float64Array.from(waves, lumensPerWatt);
    this.#meters = detectors.map(({ range: { x, y }, detector: { columns, rows, light }, chart }) => ({
      x: x[0],
      y: y[0],
      across: columns / (x[1] - x[0]),
      up: rows / (y[1] - y[0]),
      columns,
      rows,
      photometric: light === 'photometric',
      ...mapOf(chart),
    }));
    this.#maps = detectors.map(({ size }) => new Float64Array(size.length));
    this.#moments = detectors.map(() => new Float64Array(MOMENTS));
    this.#hits = new Float64Array(detectors.length);
  }

  /** Adds what was counted to a sum, and begins anew. */
  moveTo(sum: TallySum): void {
    this.#detectors.forEach((_, d) => {
      sum.addMap(d, this.#maps[d], this.#moments[d], this.#hits[d]);
      this.#moments[d].fill(0);
    });
    this.#hits.fill(0);
  }

  /** Counts flux (W) on detector d at a place in the coordinates of its face. */
  onFace(d: number, place: Float64Array, flux: number, wave: number): void {
    this.#count(d, place[0], place[1], place[2], flux, wave);
  }

  /** Counts light that leaves the scene in a direction, on every map of the far field. */
  far(l: number, m: number, n: number, flux: number, wave: number): void {
    for (let d = 0; d < this.#detectors.length; d++) {
      const { detector, toOwn } = this.#detectors[d];
      if (detector.on.kind !== 'far') continue;
      const r = toOwn!.rotation;
      const x = r[0] * l + r[1] * m + r[2] * n;
      const y = r[3] * l + r[4] * m + r[5] * n;
      const z = r[6] * l + r[7] * m + r[8] * n;
      this.#count(d, x, y, z, flux, wave);
    }
  }

  /** Counts what a flux loses on a way through a body, in the blocks of cells that it goes through. */
  deposit(ray: Float64Array, way: number, flux: number, loss: number, wave: number): void {
    this.#detectors.forEach(({ volume, detector }, d) => {
      if (!volume) return;
      const value = detector.light === 'photometric' ? flux * this.#lumens[wave] : flux;
      this.#hits[d] += depositAlong(volume, ray, way, value, loss, this.#maps[d], this.#moments[d]);
    });
  }

  /** Counts flux at a place of its face, or in a direction; what falls outside of its map is not counted. */
  #count(d: number, x: number, y: number, z: number, flux: number, wave: number): void {
    const meter = this.#meters[d];
    placeOnMap(meter.kind, meter.radius, x, y, z);
    const cell = cellAt(mapX, mapY, meter.x, meter.y, meter.across, meter.up, meter.columns, meter.rows);
    if (cell < 0) return;
    const value = meter.photometric ? flux * this.#lumens[wave] : flux;
    this.#maps[d][cell] += value;
    const moments = this.#moments[d];
    moments[0] += value;
    moments[1] += value * mapX;
    moments[2] += value * mapY;
    moments[3] += value * mapX * mapX;
    moments[4] += value * mapY * mapY;
    this.#hits[d]++;
  }
}
