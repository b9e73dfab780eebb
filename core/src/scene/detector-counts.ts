import { cellAt, mapX, mapY, placeOnMap } from '../physics/cells.ts';
import { channelTable } from './channels.ts';
import { mapOf } from './charts.ts';
import type { SceneModel } from './scene-model.ts';
import { MOMENTS, type TallySum } from './tally.ts';
import type { TracedRay } from './traced-ray.ts';
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
  /** Cells of its map in each channel. */
  readonly cells: number;
  /** How its map is laid: see `placeOnMap`. */
  readonly kind: number;
  readonly radius: number;
}

/** What the detectors of a scene count in one chunk of rays. */
export class DetectorCounts {
  readonly #detectors: SceneModel['detectors'];
  readonly #meters: readonly Meter[];
  readonly #channels: Int32Array;
  readonly #waves: number;
  readonly #maps: readonly Float64Array[];
  readonly #moments: readonly Float64Array[];
  readonly #hits: readonly Float64Array[];

  constructor({ detectors, waves, channels, sources }: SceneModel) {
    this.#detectors = detectors;
    this.#channels = channelTable(channels, sources.length, waves.length);
    this.#waves = waves.length;
    this.#meters = detectors.map(({ range: { x, y }, detector: { columns, rows }, chart, size }) => ({
      x: x[0],
      y: y[0],
      across: columns / (x[1] - x[0]),
      up: rows / (y[1] - y[0]),
      columns,
      rows,
      cells: size.length,
      ...mapOf(chart),
    }));
    const many = Math.max(1, channels.length);
    this.#maps = detectors.map(({ size }) => new Float64Array(many * size.length));
    this.#moments = detectors.map(() => new Float64Array(many * MOMENTS));
    this.#hits = detectors.map(() => new Float64Array(many));
  }

  /** Adds what was counted to a sum, and begins anew. */
  moveTo(sum: TallySum): void {
    this.#detectors.forEach((_, d) => {
      sum.addMap(d, this.#maps[d], this.#moments[d], this.#hits[d]);
      this.#moments[d].fill(0);
      this.#hits[d].fill(0);
    });
  }

  /** Counts flux (W) on detector d at a place in the coordinates of its face. */
  onFace(d: number, place: Float64Array, flux: number, ray: TracedRay): void {
    this.#count(d, place[0], place[1], place[2], flux, ray);
  }

  /** Counts light that leaves the scene in a direction, on every map of the far field. */
  far(ray: TracedRay): void {
    const [, , , l, m, n] = ray.at;
    for (let d = 0; d < this.#detectors.length; d++) {
      const { chart, toOwn } = this.#detectors[d];
      if (chart.kind !== 'directions') continue;
      const r = toOwn!.rotation;
      const x = r[0] * l + r[1] * m + r[2] * n;
      const y = r[3] * l + r[4] * m + r[5] * n;
      const z = r[6] * l + r[7] * m + r[8] * n;
      this.#count(d, x, y, z, ray.flux, ray);
    }
  }

  /** Counts what a flux loses on a way through a body, in the blocks of cells that it goes through. */
  deposit(ray: TracedRay, way: number, loss: number): void {
    const channel = this.#channelOf(ray);
    this.#detectors.forEach(({ volume }, d) => {
      if (!volume) return;
      const { cells } = this.#meters[d];
      const map = this.#maps[d].subarray(channel * cells, (channel + 1) * cells);
      const moments = this.#moments[d].subarray(channel * MOMENTS, (channel + 1) * MOMENTS);
      this.#hits[d][channel] += depositAlong(volume, ray.at, way, ray.flux, loss, map, moments);
    });
  }

  #channelOf({ source, wave }: TracedRay): number {
    return this.#channels[source * this.#waves + wave];
  }

  /** Counts flux at a place of its face, or in a direction; what falls outside of its map is not counted. */
  #count(d: number, x: number, y: number, z: number, flux: number, ray: TracedRay): void {
    const meter = this.#meters[d];
    placeOnMap(meter.kind, meter.radius, x, y, z);
    const cell = cellAt(mapX, mapY, meter.x, meter.y, meter.across, meter.up, meter.columns, meter.rows);
    if (cell < 0) return;
    const channel = this.#channelOf(ray);
    this.#maps[d][channel * meter.cells + cell] += flux;
    const moments = this.#moments[d];
    const o = channel * MOMENTS;
    moments[o] += flux;
    moments[o + 1] += flux * mapX;
    moments[o + 2] += flux * mapY;
    moments[o + 3] += flux * mapX * mapX;
    moments[o + 4] += flux * mapY * mapY;
    this.#hits[d][channel]++;
  }
}
