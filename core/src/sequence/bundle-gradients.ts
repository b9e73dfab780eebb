import type { BackSurface, KeptBundle } from '../compute/back-kernel.ts';
import { traceKernel, type TraceKernel } from '../compute/kernel.ts';
import { RAY_STATUS, rayBlock, type RayBlock } from '../compute/ray-block.ts';
import { failure, success, type Outcome } from '../math/outcome.ts';
import { AT_REST, shifted, type Rigid } from '../math/rigid.ts';
import type { FieldPoint } from '../project/model.ts';
import type { Aimer } from './aiming.ts';
import { launchDerivatives, launchRays } from './launch.ts';
import { pupilChange, type PupilChange } from './pupil-derivatives.ts';
import {
  addCurvature,
  addIndex,
  addPhase,
  addShape,
  anyJets,
  localOf,
  phaseJets,
  plainJets,
  seedOf,
  stationOf,
  turnBack,
  turns,
  type Local,
  type Seed,
  type Station,
} from './back-sweep.ts';
import { addMotion, motionMoments } from './back-motion.ts';
import { entryChanges } from './ray-derivatives.ts';
import { indexChange, type SolverVariable } from './solver-variable.ts';
import { backSurfaces } from './back-surfaces.ts';
import { traceBlock } from './trace.ts';

export { seedOf, type Seed } from './back-sweep.ts';

const COORDINATES = ['x', 'y', 'z', 'l', 'm', 'n', 'path'] as const;

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
  readonly #kernel: TraceKernel | null;
  /** By wavelength, the lens as the compiled kernel takes it; null where it does not know it. */
  readonly #surfaces = new Map<number, readonly BackSurface[] | null>();

  private constructor(
    aimer: Aimer,
    variables: readonly SolverVariable[],
    pupils: readonly PupilChange[],
    kernel: TraceKernel | null,
  ) {
    this.aimer = aimer;
    this.#kernel = kernel;
    this.variables = variables;
    this.#pupils = pupils;
    this.#entries = variables.map((variable) =>
      variable.kind === 'place' ? entryChanges(aimer.model.lens.surfaces, variable) : tiltedStep(aimer, variable),
    );
    this.#indices = variables.map((variable) => indexChange(aimer.model, variable));
  }

  /**
   * Prepares derivatives by variables of the lens that an aimer is for. Fails where rays are not differentiated backward.
   *
   * @param kernel - the compiled kernel; null leaves everything to TypeScript, as its tests want it
   */
  static of(aimer: Aimer, variables: readonly SolverVariable[], kernel = traceKernel()): Outcome<BundleGradients> {
    const { surfaces } = aimer.model;
    if (surfaces.some(({ shape }) => shape.ideal))
      return failure('Rays through ideal lenses are not differentiated backward.');
    const pupils: PupilChange[] = [];
    for (const variable of variables) {
      const change = pupilChange(aimer.model, aimer.pupil, variable);
      if (!change.ok) return change;
      pupils.push(change.value);
    }
    return success(new BundleGradients(aimer, variables, pupils, kernel));
  }

  /** Traces the rays of a field through points of the pupil; set apertures do not stop them. */
  trace(
    field: FieldPoint,
    wave: number,
    px: Float64Array,
    py: Float64Array,
    aim = this.aimer.model.lens.pupil.aim,
  ): GradientBundle {
    const { aimer } = this;
    const { model, pupil } = aimer;
    const count = px.length;
    const { ex, ey } = aimer.aim(aim, field, wave, px, py);
    const rays = rayBlock(count);
    launchRays(model, pupil, field, ex, ey, rays, count);
    for (let i = 0; i < count; i++)
      if (Number.isNaN(ex[i])) {
        rays.status[i] = RAY_STATUS.notAimed;
        rays.at[i] = model.stop;
      }
    const passed = this.#record(rays, wave);
    const request: BackRequest = { field, wave, px, py, aim, ex, ey, passed, alive: rays.status, count };
    return { rays, whole: allAlive(rays), back: (seeds) => this.#back(request, seeds) };
  }

  /** Traces rays that have been launched already, in place, in the frame of the first vertex: they start where they start, whatever changes. */
  traceLaunched(rays: RayBlock, wave: number): GradientBundle {
    const passed = this.#record(rays, wave);
    const { capacity: count, status: alive } = rays;
    const back = (seeds: readonly Seed[]) => {
      const request = { wave, passed, alive, count };
      return this.#sweeps(request, seeds, this.aimer.model.surfaces.length - 1, false).map(({ by }) => by);
    };
    return { rays, whole: allAlive(rays), back };
  }

  /** Traces rays in place and keeps what the way back needs of every surface. */
  #record(rays: RayBlock, wave: number): Passed {
    if (!this.#surfaces.has(wave))
      this.#surfaces.set(wave, this.#kernel && backSurfaces(this.aimer.model, this.variables, wave, this.#indices));
    const surfaces = this.#surfaces.get(wave);
    const kept = surfaces && this.#kernel!.back.room(rays.capacity, surfaces.length, this.variables.length);
    if (!kept) return { stations: this.#stations(rays, wave) };
    const launched = seedOf(rays.capacity);
    for (const name of COORDINATES) launched[name].set(rays[name]);
    this.#keep(rays, wave, kept);
    return { surfaces, launched, kept };
  }

  /** Traces rays in place and keeps them in the kernel's memory. */
  #keep(rays: RayBlock, wave: number, kept: KeptBundle): void {
    kept.keepLaunch(rays);
    traceBlock(this.aimer.model, rays, rays.capacity, wave, {
      clip: false,
      kernel: this.#kernel,
      passed: (j) => kept.keep(j),
    });
  }

  #stations(rays: RayBlock, wave: number): Station[] {
    const { model } = this.aimer;
    const { surfaces } = model;
    const { capacity: count } = rays;
    const stations = surfaces.map(() => stationOf(count));
    keepArrivals(stations[0], rays, 0, count, surfaces[0].entry ?? AT_REST);
    traceBlock(model, rays, count, wave, {
      clip: false,
      visit: (j, part, from, size) => {
        keep(stations[j], part, from, size);
        const next = stations[j + 1];
        if (next) keepArrivals(next, part, from, size, surfaces[j + 1].entry ?? shifted(0, 0, -surfaces[j].gap), true);
      },
    });
    return stations;
  }

  #back(request: BackRequest, seeds: readonly Seed[]): Float64Array[] {
    const { count, aim, px, py } = request;
    const { model } = this.aimer;
    const at = this.#sweep(request, seeds, model.surfaces.length - 1);
    if (aim === 'paraxial') {
      for (const { by, launch } of at)
        this.#pupils.forEach(({ semi }, v) => {
          for (let i = 0; i < count; i++) by[count * v + i] += (launch.x[i] * px[i] + launch.y[i] * py[i]) * semi;
        });
      return at.map(({ by }) => by);
    }
    // The launch follows so that the ray keeps its point of the stop: ∂S/∂e · de + ∂S/∂p = (px, py) dRs.
    const [seedX, seedY] = [seedOf(count), seedOf(count)];
    seedX.x.fill(1);
    seedY.y.fill(1);
    const [stopX, stopY] = this.#sweep(request, [seedX, seedY], model.stop);
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
    return this.#sweeps(request, seeds, from, true).map(({ by, adjoint }) => ({
      by,
      launch: this.#launch(request, adjoint!, by),
    }));
  }

  /** All adjoints from a surface back to the launch, surface by surface, so that they share what a surface is. */
  #sweeps(request: SweepRequest, seeds: readonly Seed[], from: number, launched: boolean): AtLaunch[] {
    const { passed } = request;
    const swept = passed.kept
      ? this.#compiled(request.wave, passed, seeds, from, launched)
      : this.#plainly(request, passed.stations, seeds, from);
    // The loops do not look at rays that have ended: what they made of them is nothing.
    for (let i = 0; i < request.count; i++) {
      if (request.alive[i] === RAY_STATUS.alive) continue;
      for (const { adjoint, by } of swept) {
        if (adjoint) for (const name of COORDINATES) adjoint[name][i] = 0;
        for (let v = 0; v < this.variables.length; v++) by[request.count * v + i] = 0;
      }
    }
    return swept;
  }

  #compiled(wave: number, passed: Kept, seeds: readonly Seed[], from: number, wanted: boolean): AtLaunch[] {
    const { surfaces, launched } = passed;
    if (!passed.kept.kept) {
      passed.kept = this.#kernel!.back.room(launched.x.length, surfaces.length, this.variables.length)!;
      const rays = rayBlock(launched.x.length);
      for (const name of COORDINATES) rays[name].set(launched[name]);
      this.#keep(rays, wave, passed.kept);
    }
    const { columns, launch } = passed.kept.back(surfaces, from + 1, seeds, wanted);
    return columns.map((by, k) => ({ by, adjoint: launch[k] ?? null }));
  }

  #plainly(request: SweepRequest, stations: readonly Station[], seeds: readonly Seed[], from: number) {
    const swept = seeds.map((seed) => {
      const adjoint = seedOf(request.count);
      for (const name of COORDINATES) adjoint[name].set(seed[name]);
      return { adjoint, by: new Float64Array(request.count * this.variables.length) };
    });
    for (let j = from; j >= 0; j--) {
      const local = this.#local(request, stations[j], j);
      for (const { adjoint, by } of swept) this.#surface(request, stations[j], j, local, adjoint, by);
    }
    return swept;
  }

  /** What of surface `j` all adjoints need, ray by ray: see `Local`. */
  #local({ wave, alive, count }: SweepRequest, station: Station, j: number): Local {
    const { shape, reflects, phase } = this.aimer.model.surfaces[j];
    const { indices, wavelengths } = this.aimer.model;
    const before = indices[wave][j];
    const behind = indices[wave][j + 1];
    const mu = reflects ? 1 : before / behind;
    const lines = (wavelengths[wave].nm * 1e-6) / behind;
    const local = localOf(count);
    const facets = shape.facets?.jet;
    const plain = shape.form && shape.form.terms.length === 0 && !facets ? shape.form : null;
    if (plain) plainJets(station, count, plain.c, plain.k, local);
    else anyJets(station, count, alive, shape.derivatives.jet, facets ?? null, local);
    if (phase) phaseJets(station, count, alive, phase.jet, local);
    turns(station, count, mu, phase ? lines : 0, local);
    return local;
  }

  /** Takes an adjoint from behind surface `j` to behind the one before. */
  #surface(
    { wave, alive, count }: SweepRequest,
    station: Station,
    j: number,
    local: Local,
    adjoint: Seed,
    by: Float64Array,
  ): void {
    const { model } = this.aimer;
    const { shape, reflects, phase } = model.surfaces[j];
    const before = model.indices[wave][j];
    const behind = model.indices[wave][j + 1];
    const mm = model.wavelengths[wave].nm * 1e-6;
    const mu = reflects ? 1 : before / behind;
    const lines = mm / behind;
    turnBack(count, mu, before, phase ? lines : 0, phase ? mm : 0, station, local, adjoint);
    for (let v = 0; v < this.variables.length; v++) {
      const variable = this.variables[v];
      const start = count * v;
      if (variable.surface === j && variable.kind === 'shape') {
        const form = shape.form;
        if (variable.id === 'radius' && form && form.terms.length === 0 && !shape.facets)
          addCurvature(count, start, form.c, form.k, station, local, by);
        else
          addShape(
            count,
            start,
            shape.derivatives.by[variable.id],
            shape.facets?.by[variable.id] ?? null,
            station,
            alive,
            local,
            by,
          );
      } else if (variable.surface === j && variable.kind === 'phase' && phase)
        addPhase(count, start, phase.by[variable.id], lines, mm, station, alive, local, by);
      const change = this.#indices[v];
      const dBefore = change[j];
      const dBehind = reflects ? dBefore : change[j + 1];
      if (dBefore === 0 && dBehind === 0) continue;
      const dMu = reflects ? 0 : (dBefore - mu * dBehind) / behind;
      addIndex(count, start, dMu, phase ? (-lines * dBehind) / behind : 0, dBefore, station, local, by);
    }
    this.#leave(j, station, adjoint, by, count, alive);
  }

  /** Takes an adjoint from the frame of surface `j` to that of the one before: by the transposed rotation. */
  #leave(j: number, station: Station, adjoint: Seed, by: Float64Array, count: number, alive: Uint8Array): void {
    const { x, y, z, l, m, n } = adjoint;
    let moments: Float64Array | null = null;
    for (let v = 0; v < this.variables.length; v++) {
      const variable = this.variables[v];
      const start = count * v;
      const change = this.#entries[v][j];
      if (change) {
        moments ??= motionMoments(this.#entryOf(j), station, adjoint, count, alive);
        addMotion(change, moments, by, start, count);
      } else if (variable.kind === 'thickness' && variable.surface === j - 1)
        for (let i = 0; i < count; i++) by[start + i] -= z[i];
    }
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
  }

  /** From the frame of the surface before to that of surface `j`. */
  #entryOf(j: number): Rigid {
    const { surfaces } = this.aimer.model;
    return surfaces[j].entry ?? shifted(0, 0, -(surfaces[j - 1]?.gap ?? 0));
  }

  /** The adjoint by the launch coordinates; what the pupil itself does is added to the variables. */
  #launch({ field, ex, ey, count, alive }: BackRequest, { x, y, z, l, m, n }: Seed, by: Float64Array): Launch {
    const { model, pupil } = this.aimer;
    const far = model.lens.object.distance === 'infinity';
    const launch = { x: new Float64Array(count), y: new Float64Array(count) };
    const shared =
      far && model.lens.fields.kind !== 'image_height' ? launchDerivatives(model, pupil, field, 0, 0) : null;
    for (let i = 0; i < count; i++) {
      if (alive[i] !== RAY_STATUS.alive) continue;
      const { byX, byY, byPupilZ, byScale } = shared ?? launchDerivatives(model, pupil, field, ex[i], ey[i]);
      const along = (q: Float64Array) =>
        x[i] * q[0] + y[i] * q[1] + z[i] * q[2] + l[i] * q[3] + m[i] * q[4] + n[i] * q[5];
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
  }
}

interface AtLaunch {
  readonly by: Float64Array;
  /** At the launch; null where it is not asked for. */
  readonly adjoint: Seed | null;
}

/** A bundle in the kernel's memory, and what it was made of, should it have given way there. */
interface Kept {
  readonly surfaces: readonly BackSurface[];
  readonly launched: Seed;
  kept: KeptBundle;
}

/** What is kept of every surface that a bundle passed. */
type Passed = Kept | { readonly stations: readonly Station[]; readonly kept?: undefined };

/** What a sweep from the image back needs. */
interface SweepRequest {
  readonly wave: number;
  readonly passed: Passed;
  readonly alive: Uint8Array;
  readonly count: number;
}

interface BackRequest extends SweepRequest {
  readonly field: FieldPoint;
  readonly px: Float64Array;
  readonly py: Float64Array;
  readonly aim: 'paraxial' | 'stop';
  readonly ex: Float64Array;
  readonly ey: Float64Array;
}

function allAlive({ status, capacity }: RayBlock): boolean {
  for (let i = 0; i < capacity; i++) if (status[i] !== RAY_STATUS.alive) return false;
  return true;
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
function keepArrivals(
  station: Station,
  part: RayBlock,
  from: number,
  size: number,
  { shift, rotation: r }: Rigid,
  plain = false,
): void {
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
}
