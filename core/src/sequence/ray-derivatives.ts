import { RAY_STATUS, rayBlock, statusReason, type RayBlock } from '../compute/ray-block.ts';
import { failure, success, type Outcome } from '../math/outcome.ts';
import {
  AT_REST,
  composeChanging,
  foldedAxes,
  foldedChange,
  inverseChanging,
  rigidChange,
  rigidOf,
  shifted,
  type ChangingRigid,
  type Rigid,
} from '../math/rigid.ts';
import type { FieldPoint, Surface } from '../project/model.ts';
import type { Aimer } from './aiming.ts';
import { idealTurnChange, turnIdeally, type IdealTurn } from './ideal-turn.ts';
import { launchDerivatives } from './launch.ts';
import { placeWith, type Motions } from './placement.ts';
import { pupilChange, type PupilChange } from './pupil-derivatives.ts';
import { indexChange, type SolverVariable } from './solver-variable.ts';
import { FARTHEST } from './trace.ts';

/** What of a ray is differentiated, in the order of its columns: position, direction, path. */
export const RAY_QUANTITIES = ['x', 'y', 'z', 'l', 'm', 'n', 'path'] as const;
const WIDTH = RAY_QUANTITIES.length;

/** A ray at a surface with its derivatives. */
export interface DifferentiatedRay {
  /** x, y, z in mm in the frame of the surface, direction cosines after it, path since the launch in mm. */
  readonly ray: Float64Array;
  /**
   * Total derivatives: entry `WIDTH·v + q` is that of quantity q by variable v, per unit as solvers see it (1/mm for a curvature, mm,
   * degrees). The ray stays aimed at the same point of the pupil.
   */
  readonly by: Float64Array;
}

/** How the way from surface to surface changes with a variable; null where it does not. */
export function entryChanges(surfaces: readonly Surface[], variable: SolverVariable): (Rigid | null)[] {
  if (variable.kind !== 'place' && variable.kind !== 'thickness') return surfaces.map(() => null);
  const { id } = surfaces[variable.surface];
  const motions: Motions<ChangingRigid> = {
    rest: { value: AT_REST, change: null },
    frame(surface, part) {
      const given = surface[part] ?? {};
      const moves = variable.kind === 'place' && surface.id === id && variable.part === part;
      return { value: rigidOf(given), change: moves ? rigidChange(given, variable.id) : null };
    },
    step(surface) {
      const moves = variable.kind === 'thickness' && surface.id === id;
      return {
        value: shifted(0, 0, surface.after?.thickness ?? 0),
        change: moves ? { shift: [0, 0, 1], rotation: new Float64Array(9) } : null,
      };
    },
    compose: composeChanging,
    inverse: inverseChanging,
    fold({ value: { shift, rotation: r }, change }) {
      const normal = [r[2], r[5], r[8]] as const;
      const turned = change && ([change.rotation[2], change.rotation[5], change.rotation[8]] as const);
      return {
        value: { shift, rotation: foldedAxes(normal) },
        change: change && turned && { shift: change.shift, rotation: foldedChange(normal, turned) },
      };
    },
  };
  return placeWith(motions, surfaces).map(({ entry }) => entry.change);
}

/** How a ray meets a surface, in its frame. */
interface Meeting {
  readonly j: number;
  /** Way from where the ray was, its place and its direction. */
  readonly t: number;
  readonly x: number;
  readonly y: number;
  readonly l: number;
  readonly m: number;
  readonly n: number;
  /** Place and direction as one. */
  readonly met: Float64Array;
  /** Indices on both sides, n/n′ (1 for a mirror), the wavelength in mm, and it over n′. */
  readonly before: number;
  readonly behind: number;
  readonly mu: number;
  readonly mm: number;
  readonly lines: number;
  /** Slopes of the sag, second derivatives of what bends light, √(1 + f_x² + f_y²), the unit normal, the direction on (−z_x, −z_y, 1). */
  readonly zx: number;
  readonly zy: number;
  readonly fxx: number;
  readonly fxy: number;
  readonly fyy: number;
  readonly steep: number;
  readonly nx: number;
  readonly ny: number;
  readonly nz: number;
  readonly approach: number;
  /** (n d + λm∇φ)/n′, its part along the normal, that part behind the surface, and the difference of the two. */
  readonly qx: number;
  readonly qy: number;
  readonly qz: number;
  readonly c: number;
  readonly g: number;
  readonly along: number;
  readonly ideal: IdealTurn | undefined;
}

/**
 * Traces rays together with their exact derivatives by numbers of the lens, forward, surface by surface (D. P. Feder, J. Opt. Soc.
 * Am. 47, 902 (1957) gives the scheme; the formulas are in docs/physics.md, “Derivatives of rays”). Derivatives are total: launch and
 * aim follow the lens, the aim at the stop differentiated implicitly.
 */
export class RayDerivatives {
  readonly aimer: Aimer;
  readonly variables: readonly SolverVariable[];
  readonly #pupils: readonly PupilChange[];
  /** By variable, by surface. */
  readonly #entries: readonly (readonly (Rigid | null)[])[];
  readonly #indices: readonly Float64Array[];
  readonly #block: RayBlock = rayBlock(1);

  private constructor(aimer: Aimer, variables: readonly SolverVariable[], pupils: readonly PupilChange[]) {
    this.aimer = aimer;
    this.variables = variables;
    this.#pupils = pupils;
    this.#entries = variables.map((variable) => entryChanges(aimer.model.lens.surfaces, variable));
    this.#indices = variables.map((variable) => indexChange(aimer.model, variable));
  }

  /** Prepares derivatives by variables of the lens that an aimer is for. Fails where the pupil cannot be differentiated. */
  static of(aimer: Aimer, variables: readonly SolverVariable[]): Outcome<RayDerivatives> {
    const pupils: PupilChange[] = [];
    for (const variable of variables) {
      const change = pupilChange(aimer.model, aimer.pupil, variable);
      if (!change.ok) return change;
      pupils.push(change.value);
    }
    return success(new RayDerivatives(aimer, variables, pupils));
  }

  /**
   * The ray of a field through a point of the pupil, at every surface up to `until` (all by default), with its total derivatives
   * there. Fails with the reason where the ray does not get so far; set apertures do not stop it.
   */
  trace(
    field: FieldPoint,
    wave: number,
    [px, py]: readonly [number, number],
    {
      aim = this.aimer.model.lens.pupil.aim,
      until = this.aimer.model.surfaces.length,
    }: { aim?: 'paraxial' | 'stop'; until?: number } = {},
  ): Outcome<DifferentiatedRay[]> {
    const { model, pupil } = this.aimer;
    const { ex, ey } = this.aimer.aim(aim, field, wave, [px], [py]);
    if (Number.isNaN(ex[0]))
      return failure(`The ray ${statusReason(RAY_STATUS.notAimed)}.`, model.lens.stop ?? undefined);
    // Columns of the variables first, then those of the two launch coordinates.
    const count = this.variables.length;
    const columns = count + 2;
    const ray = new Float64Array(WIDTH);
    const by = new Float64Array(WIDTH * columns);
    const launched = launchDerivatives(model, pupil, field, ex[0], ey[0]);
    ray.set(launched.start);
    by.set(launched.byX, WIDTH * count);
    by.set(launched.byY, WIDTH * (count + 1));
    this.#pupils.forEach((change, v) => {
      for (let q = 0; q < WIDTH; q++)
        by[WIDTH * v + q] =
          launched.byPupilZ[q] * change.z +
          launched.byScale[q] * change.imageScale +
          (aim === 'paraxial' ? (launched.byX[q] * px + launched.byY[q] * py) * change.semi : 0);
    });

    const seen: { ray: Float64Array; by: Float64Array }[] = [];
    const last = aim === 'stop' ? Math.max(until, model.stop + 1) : until;
    for (let j = 0; j < last; j++) {
      const ended = this.#surface(j, wave, ray, by, columns);
      if (ended !== RAY_STATUS.alive) return failure(`The ray ${statusReason(ended)}.`, model.surfaces[j].id);
      seen.push({ ray: ray.slice(), by: by.slice() });
    }
    const follow = aim === 'stop' ? this.#follow(seen[model.stop].by, px, py) : null;
    return success(seen.slice(0, until).map((at) => ({ ray: at.ray, by: totals(at.by, count, follow) })));
  }

  /**
   * How the launch coordinates follow each variable so that the ray keeps its point of the stop, (px, py)·Rs: from
   * ∂S/∂e · de + ∂S/∂p = (px, py) dRs.
   */
  #follow(by: Float64Array, px: number, py: number): [number, number][] {
    const count = this.variables.length;
    const [x, y] = [WIDTH * count, WIDTH * (count + 1)];
    const [xx, yx, xy, yy] = [by[x], by[x + 1], by[y], by[y + 1]];
    const det = xx * yy - xy * yx;
    return this.#pupils.map(({ stopSemi }, v) => {
      const missX = px * stopSemi - by[WIDTH * v];
      const missY = py * stopSemi - by[WIDTH * v + 1];
      return [(yy * missX - xy * missY) / det, (xx * missY - yx * missX) / det];
    });
  }

  /** Takes the ray and its derivatives through surface `j`, from behind the one before; returns its status. */
  #surface(j: number, wave: number, ray: Float64Array, by: Float64Array, columns: number): number {
    this.#enter(j, ray, by, columns);
    const meeting = this.#meet(j, wave, ray);
    if (typeof meeting === 'number') return meeting;
    this.#change(meeting, by, columns);
    const { t, x, y, before, mm, qx, qy, qz, nx, ny, nz, along, ideal } = meeting;
    ray[0] = x;
    ray[1] = y;
    ray[2] += t * meeting.n;
    ray[6] += before * t;
    if (ideal) {
      const block = this.#block;
      [block.x[0], block.y[0]] = [x, y];
      block.path[0] = 0;
      turnIdeally(block, 1, ideal);
      [ray[3], ray[4], ray[5]] = [block.l[0], block.m[0], block.n[0]];
      ray[6] += block.path[0];
      return RAY_STATUS.alive;
    }
    ray[3] = qx + along * nx;
    ray[4] = qy + along * ny;
    ray[5] = qz + along * nz;
    ray[6] += mm * PHASE[0];
    return RAY_STATUS.alive;
  }

  /** Where and how a ray meets surface `j`, whose frame it is in; its status if it ends there. Leaves the phase there in `PHASE`. */
  #meet(j: number, wave: number, ray: Float64Array): Meeting | number {
    const { model } = this.aimer;
    const { shape, reflects, phase } = model.surfaces[j];
    const mm = model.wavelengths[wave].nm * 1e-6;
    const block = this.#block;
    block.status[0] = RAY_STATUS.alive;
    [block.x[0], block.y[0], block.z[0], block.l[0], block.m[0], block.n[0]] = ray;
    shape.intersect(block, 1);
    const t = block.t[0];
    if (!(Math.abs(t) < FARTHEST)) return RAY_STATUS.missed;
    const [l, m, n] = [ray[3], ray[4], ray[5]];
    const [x, y] = [ray[0] + t * l, ray[1] + t * m];
    shape.derivatives.jet(x, y, JET);
    const [, zx, zy] = JET;
    // Where normals are those of facets, slopes are theirs.
    const slopes = shape.facets ?? shape.derivatives;
    slopes.jet(x, y, JET);
    const [, fx, fy, fxx, fxy, fyy] = JET;
    const steep = Math.sqrt(1 + fx * fx + fy * fy);
    const [nx, ny, nz] = [-fx / steep, -fy / steep, 1 / steep];
    const [before, behind] = [model.indices[wave][j], model.indices[wave][j + 1]];
    const mu = reflects ? 1 : before / behind;
    if (phase) phase.jet(x, y, PHASE);
    else PHASE.fill(0);
    // q = (n d + λm∇φ)/n′ keeps its part along the surface; see `diffract` of the trace.
    const lines = mm / behind;
    const [qx, qy, qz] = [mu * l + lines * PHASE[1], mu * m + lines * PHASE[2], mu * n];
    const c = qx * nx + qy * ny + qz * nz;
    const squared = 1 - (qx * qx + qy * qy + qz * qz - c * c);
    if (!(squared >= 0))
      return Number.isNaN(mu) ? RAY_STATUS.noIndex : phase ? RAY_STATUS.noOrder : RAY_STATUS.totalReflection;
    const g = l * nx + m * ny + n * nz < 0 !== reflects ? -Math.sqrt(squared) : Math.sqrt(squared);
    const ideal = shape.ideal && { ...shape.ideal, before, behind, reflects };
    if (ideal && Number.isNaN(mu)) return RAY_STATUS.noIndex;
    const met = Float64Array.of(x, y, ray[2] + t * n, l, m, n);
    const approach = l * -zx + m * -zy + n; // D·G
    const turned = { mm, mu, lines, qx, qy, qz, c, g, along: g - c };
    const sag = { zx, zy, fxx, fxy, fyy, steep, nx, ny, nz, approach };
    return { j, t, x, y, l, m, n, before, behind, ...turned, ...sag, met, ideal };
  }

  /** Takes the derivatives of a ray through the surface it meets. */
  #change(meeting: Meeting, by: Float64Array, columns: number): void {
    const { j, t, x, y, l, m, n, before, behind, mu, lines, qx, qy, qz, c, g, along } = meeting;
    const { zx, zy, fxx, fxy, fyy, steep, nx, ny, nz, approach, met, ideal, mm } = meeting;
    const { reflects } = this.aimer.model.surfaces[j];
    const count = this.variables.length;
    for (let v = 0; v < columns; v++) {
      const at = WIDTH * v;
      const variable = v < count ? this.variables[v] : null;
      const own = variable?.surface === j ? variable : null;
      const [moved, slopeX, slopeY] = this.#ownChange(own, j, x, y);
      const [dl, dm, dn] = [by[at + 3], by[at + 4], by[at + 5]];
      // The point stays on z = sag(x, y): G·(dP + t dD + D dt) = ∂sag/∂p.
      let [dx, dy, dz] = [by[at] + t * dl, by[at + 1] + t * dm, by[at + 2] + t * dn];
      const dt = (moved + zx * dx + zy * dy - dz) / approach;
      [dx, dy, dz] = [dx + l * dt, dy + m * dt, dz + n * dt];
      // N = G/|G| with G = (−z_x, −z_y, 1).
      const gx = -(fxx * dx + fxy * dy + slopeX);
      const gy = -(fxy * dx + fyy * dy + slopeY);
      const lengthwise = nx * gx + ny * gy;
      const [dnx, dny, dnz] = [
        (gx - nx * lengthwise) / steep,
        (gy - ny * lengthwise) / steep,
        (-nz * lengthwise) / steep,
      ];
      const [dBefore, dBehind] = v < count ? [this.#indices[v][j], this.#indices[v][j + 1]] : [0, 0];
      const dMu = reflects ? 0 : (dBefore - mu * dBehind) / behind;
      by[at] = dx;
      by[at + 1] = dy;
      by[at + 2] = dz;
      by[at + 6] += dBefore * t + before * dt;
      if (ideal) {
        const id = own?.kind === 'shape' ? own.id : '';
        idealTurnChange(
          met,
          ideal,
          {
            power: id === 'focal_length' ? 1 : 0,
            nearness: id === 'object' ? 1 : 0,
            before: dBefore,
            behind: reflects ? dBefore : dBehind,
          },
          by,
          at,
        );
        continue;
      }
      const dLines = (-lines * dBehind) / behind;
      const dqx = dMu * l + mu * dl + lines * (PHASE[3] * dx + PHASE[4] * dy + CHANGE[1]) + dLines * PHASE[1];
      const dqy = dMu * m + mu * dm + lines * (PHASE[4] * dx + PHASE[5] * dy + CHANGE[2]) + dLines * PHASE[2];
      const dqz = dMu * n + mu * dn;
      const dc = dqx * nx + dqy * ny + dqz * nz + qx * dnx + qy * dny + qz * dnz;
      const dg = (c * dc - (qx * dqx + qy * dqy + qz * dqz)) / g;
      const dAlong = dg - dc;
      by[at + 3] = dqx + dAlong * nx + along * dnx;
      by[at + 4] = dqy + dAlong * ny + along * dny;
      by[at + 5] = dqz + dAlong * nz + along * dnz;
      by[at + 6] += mm * (CHANGE[0] + PHASE[1] * dx + PHASE[2] * dy);
    }
  }

  /** How the sag of surface `j` and its slopes change with a variable of its own; how its phase does goes into `CHANGE`. */
  #ownChange(
    own: SolverVariable | null,
    j: number,
    x: number,
    y: number,
  ): readonly [moved: number, slopeX: number, slopeY: number] {
    const { shape, phase } = this.aimer.model.surfaces[j];
    CHANGE.fill(0);
    if (own?.kind === 'phase') phase?.by[own.id]?.(x, y, CHANGE);
    if (own?.kind !== 'shape') return NO_CHANGE;
    const change = shape.derivatives.by[own.id];
    if (!change) return NO_CHANGE;
    change(x, y, CHANGE);
    const moved = CHANGE[0];
    if (shape.facets) shape.facets.by[own.id](x, y, CHANGE);
    const found = [moved, CHANGE[1], CHANGE[2]] as const;
    CHANGE.fill(0);
    return found;
  }

  /** To the frame of surface `j`: P ↦ shift + R·P, with dP ↦ R·dP + dshift + dR·P. */
  #enter(j: number, ray: Float64Array, by: Float64Array, columns: number): void {
    const { entry } = this.aimer.model.surfaces[j];
    const gap = j > 0 ? this.aimer.model.surfaces[j - 1].gap : 0;
    const before = ray.slice(0, 6);
    const { shift, rotation } = entry ?? shifted(0, 0, -gap);
    turn(rotation, ray, 0);
    turn(rotation, ray, 3);
    for (let k = 0; k < 3; k++) ray[k] += shift[k];
    for (let v = 0; v < columns; v++) {
      const at = WIDTH * v;
      if (entry) {
        turn(rotation, by, at);
        turn(rotation, by, at + 3);
      }
      const change = v < this.variables.length ? this.#entries[v][j] : null;
      if (!change) continue;
      for (const part of [0, 3]) {
        MOVED.set(before.subarray(part, part + 3));
        turn(change.rotation, MOVED, 0);
        for (let k = 0; k < 3; k++) by[at + part + k] += MOVED[k] + (part === 0 ? change.shift[k] : 0);
      }
    }
  }
}

const JET = new Float64Array(6);
const PHASE = new Float64Array(6);
const CHANGE = new Float64Array(3);
const NO_CHANGE = [0, 0, 0] as const;
const MOVED = new Float64Array(3);

/** R·v in place, for the three numbers from `at` on. */
function turn(r: Float64Array, v: Float64Array, at: number): void {
  const [x, y, z] = [v[at], v[at + 1], v[at + 2]];
  v[at] = r[0] * x + r[1] * y + r[2] * z;
  v[at + 1] = r[3] * x + r[4] * y + r[5] * z;
  v[at + 2] = r[6] * x + r[7] * y + r[8] * z;
}

/** Partial derivatives with those of the launch that follows. */
function totals(by: Float64Array, count: number, follow: readonly (readonly [number, number])[] | null): Float64Array {
  const total = by.slice(0, WIDTH * count);
  follow?.forEach(([dx, dy], v) => {
    for (let q = 0; q < WIDTH; q++)
      total[WIDTH * v + q] += by[WIDTH * count + q] * dx + by[WIDTH * (count + 1) + q] * dy;
  });
  return total;
}
