import { RAY_STATUS, type RayBlock } from '../compute/ray-block.ts';
import { failure, success, type Outcome } from '../math/outcome.ts';
import { AT_REST, movePoint, shifted, turnDirection, type Rigid } from '../math/rigid.ts';
import type { FieldPoint } from '../project/model.ts';
import type { Aimer } from './aiming.ts';
import { traceBundle } from './bundle.ts';
import { launchDerivatives } from './launch.ts';
import { pupilChange, type PupilChange } from './pupil-derivatives.ts';
import { entryChanges } from './ray-derivatives.ts';
import { indexChange, type SolverVariable } from './solver-variable.ts';

/** By how much something changes with x, y, z, l, m, n and the path of each ray at a surface: an adjoint. */
export interface Seed {
  readonly x: Float64Array;
  readonly y: Float64Array;
  readonly z: Float64Array;
  readonly l: Float64Array;
  readonly m: Float64Array;
  readonly n: Float64Array;
  readonly path: Float64Array;
}

const COORDINATES = ['x', 'y', 'z', 'l', 'm', 'n', 'path'] as const;

/** A seed of zeros for `count` rays. */
export function seedOf(count: number): Seed {
  const column = () => new Float64Array(count);
  return { x: column(), y: column(), z: column(), l: column(), m: column(), n: column(), path: column() };
}

/** What of a surface the way back needs: where rays met it, their directions before and behind, and its normals. */
interface Station {
  readonly x: Float64Array;
  readonly y: Float64Array;
  readonly z: Float64Array;
  readonly l: Float64Array;
  readonly m: Float64Array;
  readonly n: Float64Array;
  readonly nx: Float64Array;
  readonly ny: Float64Array;
  readonly nz: Float64Array;
  /** Positions in its frame before the step to it, and directions there. */
  readonly fromX: Float64Array;
  readonly fromY: Float64Array;
  readonly fromZ: Float64Array;
  readonly inL: Float64Array;
  readonly inM: Float64Array;
  readonly inN: Float64Array;
}

function stationOf(count: number): Station {
  const columns = new Float64Array(15 * count);
  let next = 0;
  const column = () => columns.subarray(next, (next += count));
  return {
    x: column(), y: column(), z: column(), l: column(), m: column(), n: column(), nx: column(), ny: column(), nz: column(),
    fromX: column(), fromY: column(), fromZ: column(), inL: column(), inM: column(), inN: column(),
  }; // prettier-ignore
}

/** A bundle at the image surface, ready to be differentiated. */
export interface GradientBundle {
  /** In the frame of the image surface. */
  readonly rays: RayBlock;
  /** Whether every ray arrived. */
  readonly whole: boolean;
  /**
   * Total derivatives of what seeds stand for, by every variable: entry `count·v + i` is that of ray i by variable v, in its units as solvers
   * see them. Rays stay aimed at their points of the pupil; rays that did not arrive have 0.
   */
  back(seeds: readonly Seed[]): Float64Array[];
}

/**
 * Derivatives of whole bundles by many numbers at once, from the image back to the launch: each quantity costs about two traces, however
 * many variables there are (reverse accumulation; A. Griewank, A. Walther, Evaluating Derivatives, chapter 3, over the steps of Feder's scheme in
 * docs/physics.md, “Derivatives of rays”). The same derivatives as those of `RayDerivatives`, which follow one ray forward.
 */
export class BundleGradients {
  readonly aimer: Aimer;
  readonly variables: readonly SolverVariable[];
  readonly #pupils: readonly PupilChange[];
  /** By variable, by surface. */
  readonly #entries: readonly (readonly (Rigid | null)[])[];
  readonly #indices: readonly Float64Array[];

  private constructor(aimer: Aimer, variables: readonly SolverVariable[], pupils: readonly PupilChange[]) {
    this.aimer = aimer;
    this.variables = variables;
    this.#pupils = pupils;
    this.#entries = variables.map((variable) =>
      variable.kind === 'place' ? entryChanges(aimer.model.lens.surfaces, variable) : tiltedStep(aimer, variable),
    );
    this.#indices = variables.map((variable) => indexChange(aimer.model, variable));
  } // prettier-ignore

  /** Prepares derivatives by variables of the lens that an aimer is for. Fails where rays are not differentiated backward. */
  static of(aimer: Aimer, variables: readonly SolverVariable[]): Outcome<BundleGradients> {
    const { surfaces } = aimer.model;
    if (surfaces.some(({ shape }) => shape.ideal))
      return failure('Rays through ideal lenses are not differentiated backward.');
    const pupils: PupilChange[] = [];
    for (const variable of variables) {
      const change = pupilChange(aimer.model, aimer.pupil, variable);
      if (!change.ok) return change;
      pupils.push(change.value);
    }
    return success(new BundleGradients(aimer, variables, pupils));
  }

  /** Traces the rays of a field through points of the pupil; set apertures do not stop them. */
  trace(field: FieldPoint, wave: number, px: Float64Array, py: Float64Array, aim = this.aimer.model.lens.pupil.aim): GradientBundle {
    const { aimer } = this;
    const count = px.length;
    const stations = aimer.model.surfaces.map(() => stationOf(count));
    const launched = { ex: new Float64Array(0), ey: new Float64Array(0) };
    const rays = traceBundle(
      aimer,
      { field, wave, px, py, aim },
      {
        clip: false,
        onLaunch: (block) => keepArrivals(stations[0], block, 0, count, aimer.model.surfaces[0].entry ?? AT_REST),
        visit: (j, part, from, size) => {
          keep(stations[j], part, from, size);
          const next = stations[j + 1];
          const { surfaces } = aimer.model;
          if (next) keepArrivals(next, part, from, size, surfaces[j + 1].entry ?? shifted(0, 0, -surfaces[j].gap), true);
        },
      },
    );
    const { ex, ey } = aimer.aim(aim, field, wave, px, py);
    Object.assign(launched, { ex, ey });
    let whole = true;
    for (let i = 0; i < count; i++) if (rays.status[i] !== RAY_STATUS.alive) whole = false;
    const alive = rays.status;
    const request: BackRequest = { field, wave, px, py, aim, ex, ey, stations, alive, count };
    return { rays, whole, back: (seeds) => this.#back(request, seeds) };
  } // prettier-ignore

  #back(request: BackRequest, seeds: readonly Seed[]): Float64Array[] {
    const { count, stations, aim, px, py } = request;
    const { model } = this.aimer;
    const at = this.#sweep(request, seeds, model.surfaces.length - 1);
    if (aim === 'paraxial') {
      for (const { by, launch } of at)
        this.#pupils.forEach(({ semi }, v) => {
          for (let i = 0; i < count; i++)
            by[count * v + i] += (launch.x[i] * px[i] + launch.y[i] * py[i]) * semi;
        });
      return at.map(({ by }) => by);
    }
    // The launch follows so that the ray keeps its point of the stop: ∂S/∂e · de + ∂S/∂p = (px, py) dRs.
    const [seedX, seedY] = [seedOf(count), seedOf(count)];
    seedX.x.fill(1);
    seedY.y.fill(1);
    const [stopX, stopY] = this.#sweep({ ...request, stations }, [seedX, seedY], model.stop);
    const variables = this.variables.length;
    for (let i = 0; i < count; i++) {
      if (request.alive[i] !== RAY_STATUS.alive) continue;
      const [xx, xy, yx, yy] = [stopX.launch.x[i], stopX.launch.y[i], stopY.launch.x[i], stopY.launch.y[i]];
      const det = xx * yy - xy * yx;
      for (let v = 0; v < variables; v++) {
        const { stopSemi } = this.#pupils[v];
        const missX = px[i] * stopSemi - stopX.by[count * v + i];
        const missY = py[i] * stopSemi - stopY.by[count * v + i];
        if (missX === 0 && missY === 0) continue;
        const dx = (yy * missX - xy * missY) / det;
        const dy = (xx * missY - yx * missX) / det;
        for (const { by, launch } of at) by[count * v + i] += launch.x[i] * dx + launch.y[i] * dy;
      }
    }
    return at.map(({ by }) => by);
  }

  /** Partial derivatives by variables with the launch coordinates held, and those by the launch coordinates. */
  #sweep(request: BackRequest, seeds: readonly Seed[], from: number): Swept[] {
    return seeds.map((seed) => {
      const adjoint = seedOf(request.count);
      for (const name of COORDINATES) adjoint[name].set(seed[name]);
      const by = new Float64Array(request.count * this.variables.length);
      for (let j = from; j >= 0; j--) this.#surface(request, j, adjoint, by);
      return { by, launch: this.#launch(request, adjoint, by) };
    });
  }

  /** Takes an adjoint from behind surface `j` to behind the one before. */
  #surface({ wave, stations, alive, count }: BackRequest, j: number, adjoint: Seed, by: Float64Array): void {
    const { model } = this.aimer;
    const surface = model.surfaces[j];
    const { shape, reflects, phase } = surface;
    const station = stations[j];
    const [before, behind] = [model.indices[wave][j], model.indices[wave][j + 1]];
    const mm = model.wavelengths[wave].nm * 1e-6;
    const mu = reflects ? 1 : before / behind;
    const own = this.variables.flatMap((variable, v) => (variable.surface === j && (variable.kind === 'shape' || variable.kind === 'phase') ? [v] : []));
    const changes = own.map((v) => {
      const variable = this.variables[v] as Extract<SolverVariable, { kind: 'shape' | 'phase' }>;
      if (variable.kind === 'phase') return { v, phase: phase?.by[variable.id] };
      return { v, sag: shape.derivatives.by[variable.id], facet: shape.facets?.by[variable.id] };
    });
    const media = this.#indices.flatMap((change, v) => (change[j] !== 0 || change[j + 1] !== 0 ? [{ v, before: change[j], behind: reflects ? change[j] : change[j + 1] }] : []));
    const { jet } = shape.derivatives;
    const facets = shape.facets?.jet;
    const plain = shape.form && shape.form.terms.length === 0 && !facets ? shape.form : null;
    const { x: AX, y: AY, z: AZ, l: AL, m: AM, n: AN, path: AP } = adjoint;
    const conic = plain ? (1 + plain.k) * plain.c * plain.c : 0;
    for (let i = 0; i < count; i++) {
      if (alive[i] !== RAY_STATUS.alive) continue;
      const [x, y] = [station.x[i], station.y[i]];
      const [l, m, n] = [station.inL[i], station.inM[i], station.inN[i]];
      const [nx, ny, nz] = [station.nx[i], station.ny[i], station.nz[i]];
      let zx: number, zy: number, fxx: number, fxy: number, fyy: number;
      if (plain) {
        const e = 1 / Math.sqrt(1 - conic * (x * x + y * y));
        const s = plain.c * e;
        const bend = s * conic * e * e;
        zx = x * s;
        zy = y * s;
        fxx = s + x * x * bend;
        fxy = x * y * bend;
        fyy = s + y * y * bend;
      } else {
        jet(x, y, JET);
        zx = JET[1];
        zy = JET[2];
        if (facets) facets(x, y, JET);
        fxx = JET[3];
        fxy = JET[4];
        fyy = JET[5];
      }
      const qz = mu * n;
      let [qx, qy] = [mu * l, mu * m];
      const lines = mm / behind;
      if (phase) {
        phase.jet(x, y, PHASE);
        qx += lines * PHASE[1];
        qy += lines * PHASE[2];
      }
      const [dl, dm, dn] = [station.l[i], station.m[i], station.n[i]];
      const g = dl * nx + dm * ny + dn * nz;
      const c = qx * nx + qy * ny + qz * nz;
      const along = g - c;
      // D′ = q + (g − c) N, g² = 1 − q·q + c².
      const [al, am, an] = [AL[i], AM[i], AN[i]];
      const aAlong = al * nx + am * ny + an * nz;
      const aC = (-aAlong * along) / g;
      const share = aAlong / g;
      const aqx = al - share * qx + aC * nx;
      const aqy = am - share * qy + aC * ny;
      const aqz = an - share * qz + aC * nz;
      const anx = along * al + aC * qx;
      const any = along * am + aC * qy;
      const anz = along * an + aC * qz;
      // N = G/|G| with G = (−z_x, −z_y, 1), |G| = 1/N_z.
      const lengthwise = nx * anx + ny * any + nz * anz;
      const agx = (anx - nx * lengthwise) * nz;
      const agy = (any - ny * lengthwise) * nz;
      let px = AX[i] - (fxx * agx + fxy * agy);
      let py = AY[i] - (fxy * agx + fyy * agy);
      const pz = AZ[i];
      const aPath = AP[i];
      if (phase) {
        px += lines * (PHASE[3] * aqx + PHASE[4] * aqy) + aPath * mm * PHASE[1];
        py += lines * (PHASE[4] * aqx + PHASE[5] * aqy) + aPath * mm * PHASE[2];
      }
      const t = (x - station.fromX[i]) * l + (y - station.fromY[i]) * m + (station.z[i] - station.fromZ[i]) * n;
      // The point stays on the surface: G·(dP + t dD + D dt) = ∂sag/∂p.
      const approach = n - l * zx - m * zy;
      const push = (px * l + py * m + pz * n + before * aPath) / approach;
      const wx = px + push * zx;
      const wy = py + push * zy;
      const wz = pz - push;
      for (const change of changes) {
        if (change.phase) {
          change.phase(x, y, CHANGE);
          by[count * change.v + i] += lines * (CHANGE[1] * aqx + CHANGE[2] * aqy) + aPath * mm * CHANGE[0];
          continue;
        }
        change.sag!(x, y, CHANGE);
        const moved = CHANGE[0];
        change.facet?.(x, y, CHANGE);
        by[count * change.v + i] += push * moved - (CHANGE[1] * agx + CHANGE[2] * agy);
      }
      for (const change of media) {
        const dMu = reflects ? 0 : (change.before - mu * change.behind) / behind;
        const dLines = phase ? (-lines * change.behind) / behind : 0;
        by[count * change.v + i] += dMu * (aqx * l + aqy * m + aqz * n) + dLines * (phase ? PHASE[1] * aqx + PHASE[2] * aqy : 0) + change.before * t * aPath;
      }
      AX[i] = wx;
      AY[i] = wy;
      AZ[i] = wz;
      AL[i] = mu * aqx + t * wx;
      AM[i] = mu * aqy + t * wy;
      AN[i] = mu * aqz + t * wz;
    }
    this.#leave(j, station, adjoint, by, count, alive);
  } // prettier-ignore

  /** Takes an adjoint from the frame of surface `j` to that of the one before: by the transposed rotation. */
  #leave(j: number, station: Station, adjoint: Seed, by: Float64Array, count: number, alive: Uint8Array): void {
    const { x, y, z, l, m, n } = adjoint;
    this.variables.forEach((variable, v) => {
      const start = count * v;
      if (variable.kind === 'thickness' && variable.surface === j - 1 && !this.#entries[v][j]) {
        for (let i = 0; i < count; i++) by[start + i] -= z[i];
        return;
      }
      const change = this.#entries[v][j];
      if (!change) return;
      const { surfaces } = this.aimer.model;
      const back = surfaces[j].entry ?? shifted(0, 0, -(surfaces[j - 1]?.gap ?? 0));
      for (let i = 0; i < count; i++) {
        if (alive[i] !== RAY_STATUS.alive) continue;
        // Where the ray was before it was taken into this frame.
        const r = back.rotation;
        const [sx, sy, sz] = [station.fromX[i] - back.shift[0], station.fromY[i] - back.shift[1], station.fromZ[i] - back.shift[2]];
        const p = [r[0] * sx + r[3] * sy + r[6] * sz, r[1] * sx + r[4] * sy + r[7] * sz, r[2] * sx + r[5] * sy + r[8] * sz] as const;
        const [il, im, inn] = [station.inL[i], station.inM[i], station.inN[i]];
        const d = [r[0] * il + r[3] * im + r[6] * inn, r[1] * il + r[4] * im + r[7] * inn, r[2] * il + r[5] * im + r[8] * inn] as const;
        const moved = movePoint(change, p);
        const turned = turnDirection(change, d);
        by[start + i] += x[i] * moved[0] + y[i] * moved[1] + z[i] * moved[2] + l[i] * turned[0] + m[i] * turned[1] + n[i] * turned[2];
      }
    });
    const { entry } = this.aimer.model.surfaces[j];
    if (!entry) return;
    const r = entry.rotation;
    for (let i = 0; i < count; i++) {
      const [px, py, pz] = [x[i], y[i], z[i]];
      x[i] = r[0] * px + r[3] * py + r[6] * pz;
      y[i] = r[1] * px + r[4] * py + r[7] * pz;
      z[i] = r[2] * px + r[5] * py + r[8] * pz;
      const [dl, dm, dn] = [l[i], m[i], n[i]];
      l[i] = r[0] * dl + r[3] * dm + r[6] * dn;
      m[i] = r[1] * dl + r[4] * dm + r[7] * dn;
      n[i] = r[2] * dl + r[5] * dm + r[8] * dn;
    }
  } // prettier-ignore

  /** The adjoint by the launch coordinates; what the pupil itself does is added to the variables. */
  #launch({ field, ex, ey, count, alive }: BackRequest, { x, y, z, l, m, n }: Seed, by: Float64Array): Launch {
    const { model, pupil } = this.aimer;
    const far = model.lens.object.distance === 'infinity';
    const launch = { x: new Float64Array(count), y: new Float64Array(count) };
    const shared = far && model.lens.fields.kind !== 'image_height' ? launchDerivatives(model, pupil, field, 0, 0) : null;
    for (let i = 0; i < count; i++) {
      if (alive[i] !== RAY_STATUS.alive) continue;
      const { byX, byY, byPupilZ, byScale } = shared ?? launchDerivatives(model, pupil, field, ex[i], ey[i]);
      const along = (q: Float64Array) => x[i] * q[0] + y[i] * q[1] + z[i] * q[2] + l[i] * q[3] + m[i] * q[4] + n[i] * q[5];
      launch.x[i] = along(byX);
      launch.y[i] = along(byY);
      const [aZ, aScale] = [along(byPupilZ), along(byScale)];
      if (aZ === 0 && aScale === 0) continue;
      for (let v = 0; v < this.variables.length; v++) {
        const change = this.#pupils[v];
        by[count * v + i] += aZ * change.z + aScale * change.imageScale;
      }
    }
    return launch;
  } // prettier-ignore
}

interface BackRequest {
  readonly field: FieldPoint;
  readonly wave: number;
  readonly px: Float64Array;
  readonly py: Float64Array;
  readonly aim: 'paraxial' | 'stop';
  readonly ex: Float64Array;
  readonly ey: Float64Array;
  readonly stations: readonly Station[];
  readonly alive: Uint8Array;
  readonly count: number;
}

interface Launch {
  readonly x: Float64Array;
  readonly y: Float64Array;
}

interface Swept {
  readonly by: Float64Array;
  readonly launch: Launch;
}

/** A thickness in front of a tilted surface turns into a motion of its frame; elsewhere it is a plain step. */
function tiltedStep({ model }: Aimer, variable: SolverVariable): (Rigid | null)[] {
  if (variable.kind !== 'thickness' || model.surfaces.every(({ entry }) => !entry))
    return model.surfaces.map(() => null);
  return entryChanges(model.lens.surfaces, variable);
}

function keep(station: Station, part: RayBlock, from: number, size: number): void {
  for (const name of ['x', 'y', 'z', 'l', 'm', 'n', 'nx', 'ny', 'nz'] as const)
    station[name].set(part[name].subarray(0, size), from);
}

/** Where rays are, seen from the next surface; `behind` from that behind the surface before. */
function keepArrivals(station: Station, part: RayBlock, from: number, size: number, { shift, rotation: r }: Rigid, plain = false): void {
  const { fromX, fromY, fromZ, inL, inM, inN } = station;
  const straight = plain && r[0] === 1 && r[4] === 1 && r[8] === 1;
  for (let k = 0; k < size; k++) {
    const i = from + k;
    const [x, y, z, l, m, n] = [part.x[k], part.y[k], part.z[k], part.l[k], part.m[k], part.n[k]];
    if (straight) {
      fromX[i] = x + shift[0];
      fromY[i] = y + shift[1];
      fromZ[i] = z + shift[2];
      inL[i] = l;
      inM[i] = m;
      inN[i] = n;
      continue;
    }
    fromX[i] = r[0] * x + r[1] * y + r[2] * z + shift[0];
    fromY[i] = r[3] * x + r[4] * y + r[5] * z + shift[1];
    fromZ[i] = r[6] * x + r[7] * y + r[8] * z + shift[2];
    inL[i] = r[0] * l + r[1] * m + r[2] * n;
    inM[i] = r[3] * l + r[4] * m + r[5] * n;
    inN[i] = r[6] * l + r[7] * m + r[8] * n;
  }
} // prettier-ignore

const JET = new Float64Array(6);
const PHASE = new Float64Array(6);
const CHANGE = new Float64Array(3);
