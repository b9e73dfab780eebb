import type { LensEvaluation } from '../imaging/evaluation/lens-evaluation.ts';
import { isAfocal } from '../imaging/evaluation/image-space.ts';
import { referenceSphere, wayToSphere, type ReferenceSphere } from '../imaging/wavefront/reference-sphere.ts';
import { failure, success, type Outcome } from '../math/outcome.ts';
import type { ImageGoal } from '../project/improve.ts';
import type { FieldPoint } from '../project/model.ts';
import { BundleGradients, seedOf, type GradientBundle, type Seed } from '../sequence/bundle-gradients.ts';
import { traceBundle } from '../sequence/bundle.ts';
import type { RayBlock } from '../compute/ray-block.ts';
import { squareSum, type ImagePart, type ImageRows, type RowsStand } from './image-rows.ts';
import { mirrorHalf, type PupilPoints } from '../sequence/pupil-sampling.ts';
import type { SolverVariable } from '../sequence/solver-variable.ts';

/** Waves that count as one unit of merit, where spots count by the µm. */
export const WAVES_PER_UNIT = 0.02;

/** One field and colour of an image goal. */
interface Part {
  readonly field: FieldPoint;
  readonly wave: number;
  /** Weight of the field and colour over those of all. */
  readonly share: number;
  readonly points: PupilPoints;
  /** Weights of the points, which sum to 1 with their mirror images. */
  readonly weight: Float64Array;
  /** Whether the points stand for their mirror images in x = 0, too. */
  readonly halved: boolean;
}

/** What a run of rows belongs to. */
export interface RowOwner {
  readonly field: string;
  readonly wave: number;
  readonly rows: number;
  /** Weight of the field and colour over those of all. */
  readonly share: number;
  readonly weight: Float64Array;
}

/**
 * Rays of an image goal made ready for one version of a lens, by their RMS. Rows are √weight times what a ray misses,
 * so that their squares sum to the square of the RMS.
 */
export class RayRows implements ImageRows {
  readonly #goal: ImageGoal;
  readonly #lens: LensEvaluation;
  readonly #parts: readonly Part[];

  private constructor(goal: ImageGoal, lens: LensEvaluation, parts: readonly Part[]) {
    this.#goal = goal;
    this.#lens = lens;
    this.#parts = parts;
  }

  /**
   * Fails where there is nothing that counts.
   *
   * @param points - of the pupil
   * @param only - fields that count, with their weights; all of the lens by default
   */
  static of(
    goal: ImageGoal,
    lens: LensEvaluation,
    points: PupilPoints,
    only?: readonly FieldPoint[],
  ): Outcome<RayRows> {
    const { model } = lens;
    if (isAfocal(model.lens) && goal.what === 'wavefront')
      return failure('The wavefront of an image at infinity is not a goal yet: ask for spots.');
    const fields = (only ?? model.lens.fields.points).filter(({ weight }) => weight > 0);
    const waves = [...model.wavelengths.keys()].filter((wave) => model.wavelengths[wave].weight > 0);
    if (fields.length === 0) return failure('No field point has a weight.');
    if (waves.length === 0) return failure('No wavelength has a weight.');
    const all =
      fields.reduce((sum, { weight }) => sum + weight, 0) *
      waves.reduce((sum, wave) => sum + model.wavelengths[wave].weight, 0);
    const parts = fields.flatMap((field) =>
      waves.map((wave): Part => {
        const split = model.mirrorX && field.x === 0 ? mirrorHalf(points) : null;
        const own = split?.half ?? points;
        const weight = split ? own.weight.map((one, i) => (own.px[i] > 5e-10 ? 2 * one : one)) : own.weight;
        const share = (field.weight * model.wavelengths[wave].weight) / all;
        return { field, wave, share, points: own, weight, halved: split !== null };
      }),
    );
    return success(new RayRows(goal, lens, parts));
  }

  /** Number of rows. */
  get count(): number {
    return this.#parts.reduce((sum, { points }) => sum + this.each * points.px.length, 0);
  }

  /** Rows of one ray: x and y of a spot, the path of a wavefront. */
  get each(): 1 | 2 {
    return this.#goal.what === 'spot' ? 2 : 1;
  }

  /** Fields and colours in the order of the rows, with the weights of their rays, which sum to 1 with their mirror images. */
  owners(): RowOwner[] {
    return this.#parts.map(({ field, wave, points, share, weight }) => ({
      field: field.id,
      wave,
      rows: this.each * points.px.length,
      share,
      weight,
    }));
  }

  /** RMS of each field and colour, in µm or waves. */
  stand(): RowsStand | null {
    const values = new Float64Array(this.count);
    if (!this.values(values, 0)) return null;
    const factor = this.#goal.what === 'wavefront' ? WAVES_PER_UNIT : 1;
    let at = 0;
    const parts = this.owners().map(({ field, wave, rows, share }): ImagePart => {
      const own = squareSum(values.subarray(at, (at += rows)));
      return { field, of: this.#lens.model.wavelengths[wave].nm, value: factor * Math.sqrt(own / share) };
    });
    return { value: factor * Math.sqrt(squareSum(values)), square: squareSum(values), parts };
  }

  /** All rows, in µm or units of waves; null where a ray is missing. */
  values(out: Float64Array, at: number): boolean {
    const aimer = this.#lens.aimer();
    if (!aimer.ok) return false;
    const bundles: RayBlock[] = [];
    for (const { field, wave, points } of this.#parts) {
      const rays = traceBundle(aimer.value, { field, wave, px: points.px, py: points.py }, { clip: false });
      for (let i = 0; i < points.px.length; i++) if (rays.status[i] !== 0) return false;
      bundles.push(rays);
    }
    return this.#fill(bundles, out, at);
  }

  /** The first field and colour of which a ray is missing, in words; null where all arrive. */
  missing(): string | null {
    const aimer = this.#lens.aimer();
    if (!aimer.ok) return aimer.reason;
    for (const { field, wave, points } of this.#parts) {
      const rays = traceBundle(aimer.value, { field, wave, px: points.px, py: points.py }, { clip: false });
      const lost = rays.status.findIndex((status) => status !== 0);
      if (lost < 0) continue;
      const { surfaces, lens } = this.#lens.model;
      const where = surfaces[rays.at[lost]]?.id ?? '';
      return `a ray of the field ${field.id} at ${lens.wavelengths[wave].nm} nm ends at ${where}`;
    }
    return null;
  }

  /** Derivatives of all rows by variables; `put(v, row, value)` takes them. Null where rays cannot be differentiated. */
  columns(variables: readonly SolverVariable[]): Float64Array[] | null {
    const aimer = this.#lens.aimer();
    if (!aimer.ok) return null;
    const gradients = BundleGradients.of(aimer.value, variables);
    if (!gradients.ok) return null;
    const bundles = this.#parts.map(({ field, wave, points }) =>
      gradients.value.trace(field, wave, points.px, points.py),
    );
    if (bundles.some(({ whole }) => !whole)) return null;
    const columns = variables.map(() => new Float64Array(this.count));
    if (this.#goal.what === 'spot') this.#spotColumns(gradients.value, bundles, columns);
    else this.#waveColumns(gradients.value, bundles, columns);
    return columns;
  }

  #fill(bundles: readonly RayBlock[], out: Float64Array, at: number): boolean {
    return this.#goal.what === 'spot' ? this.#fillSpots(bundles, out, at) : this.#fillWaves(bundles, out, at);
  }

  /** Factor from mm, or radians, to what spots are counted in. */
  get #unit(): number {
    return 1000;
  }

  #fillSpots(bundles: readonly RayBlock[], out: Float64Array, at: number): boolean {
    const places = bundles.map((rays) => this.#places(rays));
    const centres = this.#centres(places);
    if (!centres) return false;
    let row = at;
    this.#parts.forEach(({ share, weight, points }, p) => {
      const [cx, cy] = centres[p];
      const { x, y } = places[p];
      for (let i = 0; i < points.px.length; i++) {
        const root = Math.sqrt(share * weight[i]) * this.#unit;
        out[row++] = root * (x[i] - cx);
        out[row++] = root * (y[i] - cy);
      }
    });
    return true;
  }

  /** Where rays arrive: in mm, or their slopes where the image lies at infinity. */
  #places(rays: RayBlock): { x: Float64Array; y: Float64Array } {
    if (!isAfocal(this.#lens.model.lens)) return rays;
    return { x: rays.l.map((l, i) => l / rays.n[i]), y: rays.m.map((m, i) => m / rays.n[i]) };
  }

  /** The point of each part that its rays are measured from. */
  #centres(places: readonly { x: Float64Array; y: Float64Array }[]): (readonly [number, number])[] | null {
    const { about, lateralColour } = this.#goal;
    if (about === 'chief') {
      const chiefs = this.#parts.map((part) => {
        const chief = this.#lens.chief(part.field, lateralColour ? this.#lens.model.primary : part.wave);
        if (!chief.ok || chief.value.status[0] !== 0) return null;
        const { x, y } = this.#places(chief.value);
        return [x[0], y[0]] as const;
      });
      return chiefs.includes(null) ? null : (chiefs as (readonly [number, number])[]);
    }
    const own = this.#parts.map(({ weight, halved }, p) => {
      const { x, y } = places[p];
      let [sx, sy] = [0, 0];
      for (let i = 0; i < weight.length; i++) {
        sx += weight[i] * x[i];
        sy += weight[i] * y[i];
      }
      return [halved ? 0 : sx, sy] as const;
    });
    return lateralColour ? this.#overColours(own) : own;
  }

  /** The mean over the colours of each field. */
  #overColours(own: readonly (readonly [number, number])[]): (readonly [number, number])[] {
    const sums = new Map<string, [number, number, number]>();
    this.#parts.forEach(({ field, share }, p) => {
      const sum = sums.get(field.id) ?? [0, 0, 0];
      sums.set(field.id, [sum[0] + share * own[p][0], sum[1] + share * own[p][1], sum[2] + share]);
    });
    return this.#parts.map(({ field }) => {
      const [x, y, share] = sums.get(field.id)!;
      return [x / share, y / share] as const;
    });
  }

  #spotColumns(gradients: BundleGradients, bundles: readonly GradientBundle[], columns: readonly Float64Array[]): void {
    const variables = columns.length;
    const backs = bundles.map((bundle) => bundle.back(this.#placeSeeds(bundle.rays)));
    const chiefs = this.#goal.about === 'chief' ? this.#chiefColumns(gradients) : null;
    for (let v = 0; v < variables; v++) {
      const own = this.#parts.map(({ weight, halved }, p) => {
        if (chiefs) return chiefs[p][v];
        const [bx, by] = backs[p];
        const count = weight.length;
        let [sx, sy] = [0, 0];
        for (let i = 0; i < count; i++) {
          sx += weight[i] * bx[count * v + i];
          sy += weight[i] * by[count * v + i];
        }
        return [halved ? 0 : sx, sy] as const;
      });
      const centres = !chiefs && this.#goal.lateralColour ? this.#overColours(own) : own;
      let row = 0;
      const column = columns[v];
      this.#parts.forEach(({ share, weight }, p) => {
        const [bx, by] = backs[p];
        const count = weight.length;
        for (let i = 0; i < count; i++) {
          const root = Math.sqrt(share * weight[i]) * this.#unit;
          column[row++] = root * (bx[count * v + i] - centres[p][0]);
          column[row++] = root * (by[count * v + i] - centres[p][1]);
        }
      });
    }
  }

  /** What a change of a ray does to where it arrives. */
  #placeSeeds({ l, m, n, capacity: count }: RayBlock): Seed[] {
    const [x, y] = [seedOf(count), seedOf(count)];
    if (!isAfocal(this.#lens.model.lens)) {
      x.x.fill(1);
      y.y.fill(1);
      return [x, y];
    }
    for (let i = 0; i < count; i++) {
      x.l[i] = y.m[i] = 1 / n[i];
      x.n[i] = -l[i] / (n[i] * n[i]);
      y.n[i] = -m[i] / (n[i] * n[i]);
    }
    return [x, y];
  }

  /** How the chief point of each part changes with each variable. */
  #chiefColumns(gradients: BundleGradients): (readonly [number, number])[][] {
    const centre = new Float64Array(1);
    const known = new Map<string, (readonly [number, number])[]>();
    return this.#parts.map(({ field, wave: own }) => {
      const wave = this.#goal.lateralColour ? this.#lens.model.primary : own;
      const key = `${field.id} ${wave}`;
      let found = known.get(key);
      if (!found) {
        const chief = gradients.trace(field, wave, centre, centre);
        const [bx, by] = chief.back(this.#placeSeeds(chief.rays));
        found = gradients.variables.map((_, v) => [bx[v], by[v]] as const);
        known.set(key, found);
      }
      return found;
    });
  }

  /** Optical path of each ray to the reference sphere about the chief image point, as lengths that differ from the wavefront's by one amount. */
  #fillWaves(bundles: readonly RayBlock[], out: Float64Array, at: number): boolean {
    let row = at;
    for (const [p, { share, weight, wave }] of this.#parts.entries()) {
      const reference = this.#reference(p);
      if (!reference) return false;
      const paths = bundles[p].path.map((_, i) => toSphere(bundles[p], i, reference).path);
      const mean = weightedMean(paths, weight);
      const unit = 1 / (this.#lens.model.wavelengths[wave].nm * 1e-6 * WAVES_PER_UNIT);
      for (let i = 0; i < weight.length; i++) out[row++] = Math.sqrt(share * weight[i]) * unit * (mean - paths[i]);
    }
    return true;
  }

  #waveColumns(gradients: BundleGradients, bundles: readonly GradientBundle[], columns: readonly Float64Array[]): void {
    let start = 0;
    const centre = new Float64Array(1);
    this.#parts.forEach(({ field, wave, share, weight }, p) => {
      const count = weight.length;
      const reference = this.#reference(p)!;
      const { rays } = bundles[p];
      const seed = seedOf(count);
      const byCentre = [new Float64Array(count), new Float64Array(count)];
      for (let i = 0; i < count; i++) {
        const { way, toCentre, along } = toSphere(rays, i, reference);
        const n = reference.index;
        // (P + sD − C)·(dP + s dD + D ds − dC) = 0 on the sphere.
        const push = -n / along;
        [seed.x[i], seed.y[i], seed.z[i]] = toCentre.map((part) => push * part);
        [seed.l[i], seed.m[i], seed.n[i]] = toCentre.map((part) => push * way * part);
        seed.path[i] = 1;
        byCentre[0][i] = -push * toCentre[0];
        byCentre[1][i] = -push * toCentre[1];
      }
      const [by] = bundles[p].back([seed]);
      const chief = gradients.trace(field, wave, centre, centre);
      const seeds = [seedOf(1), seedOf(1)];
      seeds[0].x[0] = seeds[1].y[0] = 1;
      const [cx, cy] = chief.back(seeds);
      const unit = 1 / (this.#lens.model.wavelengths[wave].nm * 1e-6 * WAVES_PER_UNIT);
      columns.forEach((column, v) => {
        const change = Float64Array.from(
          weight,
          (_, i) => by[count * v + i] + byCentre[0][i] * cx[v] + byCentre[1][i] * cy[v],
        );
        const mean = weightedMean(change, weight);
        for (let i = 0; i < count; i++) column[start + i] = Math.sqrt(share * weight[i]) * unit * (mean - change[i]);
      });
      start += count;
    });
  }

  #reference(p: number): Reference | null {
    const { field, wave } = this.#parts[p];
    const { model } = this.#lens;
    const found = referenceSphere(this.#lens, field, wave);
    if (!found.ok) return null;
    const sphere = { ...found.value, radius: Math.min(found.value.radius, LARGEST_SPHERE) };
    return { sphere, index: model.indices[wave][model.surfaces.length - 1] };
  }
}

/** An exit pupil farther away than this, mm, is taken as this far: the wavefront is the same to all digits. */
const LARGEST_SPHERE = 1e9;

interface Reference {
  readonly sphere: ReferenceSphere;
  readonly index: number;
}

/**
 * From a ray at the image on to the reference sphere: path there less the radius, the way, the vector from the centre and its part along the
 * ray.
 */
function toSphere(rays: RayBlock, i: number, { sphere, index }: Reference) {
  const { centre, radius, side } = sphere;
  const [l, m, n] = [rays.l[i], rays.m[i], rays.n[i]];
  const differing = wayToSphere(sphere, rays, i);
  const way = differing + side * radius;
  const toCentre = [rays.x[i] - centre[0] + way * l, rays.y[i] - centre[1] + way * m, rays.z[i] - centre[2] + way * n];
  const along = toCentre[0] * l + toCentre[1] * m + toCentre[2] * n;
  return { path: rays.path[i] + index * differing, way, toCentre, along };
}

function weightedMean(values: Float64Array, weight: Float64Array): number {
  let [sum, all] = [0, 0];
  for (let i = 0; i < weight.length; i++) {
    sum += weight[i] * values[i];
    all += weight[i];
  }
  return sum / all;
}
