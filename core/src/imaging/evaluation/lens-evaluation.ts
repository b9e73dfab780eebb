import type { RayBlock } from '../../compute/ray-block.ts';
import { failure, success, type Outcome } from '../../math/outcome.ts';
import { lensTooLarge } from '../../project/budget.ts';
import type { FieldPoint, Lens, Project } from '../../project/model.ts';
import { Aimer } from '../../sequence/aiming.ts';
import { focused } from './focusing-lens.ts';
import { isAfocal, toAngles } from './image-space.ts';
import { traceSampling } from '../../sequence/bundle.ts';
import { surfaceExtents, type SurfaceExtent } from '../../sequence/extents.ts';
import { launchPupil, samePupil, type LaunchPupil } from '../../sequence/launch.ts';
import { compileLens, type LensModel } from '../../sequence/lens-model.ts';
import { imageStep, onMovedPlane } from './moved-image.ts';
import { resolveLens } from '../../sequence/resolve.ts';
import { firstOrder, type FirstOrder } from '../../sequence/paraxial.ts';
import { pupilPoints, samplingLabel, type PupilPoints, type PupilSampling } from '../../sequence/pupil-sampling.ts';

/** How the rays of an analysis are chosen; every result that is made of rays says it. */
export interface RayChoice {
  readonly sampling: PupilSampling;
  /** `clipped`: set apertures stop rays. `full`: they do not. */
  readonly pupil: 'full' | 'clipped';
  /** Which way rays are aimed; the lens's own choice by default. */
  readonly aim?: 'paraxial' | 'stop';
}

/** A traced bundle at the image surface with the pupil points its rays belong to. */
export interface TracedBundle {
  readonly points: PupilPoints;
  /** In the frame of the image surface; x and y are angles in radians where the image lies at infinity. */
  readonly rays: RayBlock;
}

const CENTRE: PupilPoints = { px: Float64Array.of(0), py: Float64Array.of(0), weight: Float64Array.of(1) };

/** A value computed once and kept with its failures. */
function once<T>(cache: Map<string, unknown>, key: string, compute: () => T): T {
  if (!cache.has(key)) cache.set(key, compute());
  return cache.get(key) as T;
}

/** A lens of a project, compiled, with the aperture and the fields that real rays ask for. */
const modelOf = (project: Project, lens: Lens) => resolveLens(compileLens(project, lens));

/**
 * Everything that is computed of one lens of one project version, each piece once and shared by all that ask for it.
 * It holds no other state: make a new one for a new version of the project.
 */
export class LensEvaluation {
  /** Aperture and fields that are asked for by real rays are those that meet the wish, see `resolveLens`. */
  readonly model: LensModel;
  readonly project: Project;
  readonly #cache = new Map<string, unknown>();
  readonly #near: LensEvaluation | null;

  /**
   * @param project - that the lens stands in
   * @param near - of a lens that differs a little: its rays are where those of this one are searched first
   */
  constructor(model: LensModel, project: Project, near: LensEvaluation | null = null) {
    this.model = model;
    this.project = project;
    this.#near = near;
  }

  /**
   * Where the image lies at infinity, the lens with an ideal lens of 1000 mm after it, so that angles in mrad become places in mm: what
   * needs a wavefront about an image point looks at that one. Else the lens itself.
   */
  inFocus(): LensEvaluation {
    if (!isAfocal(this.model.lens)) return this;
    return once(this.#cache, 'in focus', () => {
      const lens = focused(this.model.lens);
      return lens ? new LensEvaluation(modelOf(this.project, lens), this.project) : this;
    });
  }

  /** The lens with its image surface moved along the axis by so much, mm. */
  imageMoved(shift: number): LensEvaluation {
    if (shift === 0) return this;
    return once(this.#cache, `image moved ${shift}`, () => {
      const lens = this.model.asked ?? this.model.lens;
      const last = lens.surfaces.length - 2;
      const surfaces = lens.surfaces.map((surface, j) =>
        j === last && surface.after
          ? { ...surface, after: { ...surface.after, thickness: surface.after.thickness + shift } }
          : surface,
      );
      return new LensEvaluation(modelOf(this.project, { ...lens, surfaces }), this.project);
    });
  }

  /** An evaluation of another model of this lens. */
  of(model: LensModel): LensEvaluation {
    return new LensEvaluation(model, this.project);
  }

  /** First-order data at the wavelength with this index. */
  firstOrder(wave: number): Outcome<FirstOrder> {
    return once(this.#cache, `first order ${wave}`, () => firstOrder(this.model, wave));
  }

  /** First-order data at the primary wavelength. */
  primary(): Outcome<FirstOrder> {
    const wave = this.model.primary;
    return wave < 0 ? failure('No primary wavelength is chosen.') : this.firstOrder(wave);
  }

  /** The pupil that all rays are aimed at. */
  pupil(): Outcome<LaunchPupil> {
    return once(this.#cache, 'pupil', () => {
      const primary = this.primary();
      return primary.ok ? launchPupil(this.model, primary.value) : primary;
    });
  }

  /** What finds the rays through points of the pupil; one for all analyses of this version. */
  aimer(): Outcome<Aimer> {
    return once(this.#cache, 'aimer', () => {
      const pupil = this.pupil();
      if (!pupil.ok) return pupil;
      const near = this.#near?.aimer();
      return success(new Aimer(this.model, pupil.value, near?.ok ? near.value : null));
    });
  }

  /** Semi-apertures of all surfaces. */
  extents(): SurfaceExtent[] {
    return once(this.#cache, 'extents', () => {
      const aimer = this.aimer();
      return surfaceExtents(this.model, aimer.ok ? aimer.value : null);
    });
  }

  /** What an analysis computes under a name of its own, once for all that ask. */
  shared<T>(key: string, compute: () => T): T {
    return once(this.#cache, key, compute);
  }

  /** The field point with an id. Fails, naming the known ones, when there is none. */
  field(id: string): Outcome<FieldPoint> {
    const { points } = this.model.lens.fields;
    const field = points.find((point) => point.id === id);
    if (field) return success(field);
    return failure(`There is no field “${id}”; there are ${points.map((point) => point.id).join(', ') || 'none'}.`, id);
  }

  /** The rays of one field and colour at the image. */
  bundle(field: FieldPoint, wave: number, choice: RayChoice): Outcome<TracedBundle> {
    const { obscuration, aim } = this.model.lens.pupil;
    const key = ['bundle', field.id, wave, samplingLabel(choice.sampling), choice.pupil, choice.aim ?? aim].join(' ');
    return this.#traced(key, field, wave, () => pupilPoints(choice.sampling, obscuration), choice);
  }

  /** The ray through the centre of the pupil at the image, traced even where it is obscured or clipped. */
  chief(field: FieldPoint, wave: number, aim = this.model.lens.pupil.aim): Outcome<RayBlock> {
    const traced = this.#traced(`chief ${field.id} ${wave} ${aim}`, field, wave, () => CENTRE, { pupil: 'full', aim });
    return traced.ok ? success(traced.value.rays) : traced;
  }

  /**
   * How far the image plane lies after that of the lens nearby, mm, where nothing else differs: rays that are known there need no other
   * trace. Null where more differs.
   */
  #step(): number | null {
    return once(this.#cache, 'step of the image', () => {
      const near = this.#near;
      if (!near || isAfocal(this.model.lens)) return null;
      const [here, there] = [this.pupil(), near.pupil()];
      const alike = here.ok && there.ok && samePupil(here.value, there.value);
      return alike ? imageStep(this.model, near.model) : null;
    });
  }

  /** Rays under a key: those of the lens nearby where only the image plane has moved, else traced. */
  #traced(
    key: string,
    field: FieldPoint,
    wave: number,
    points: () => PupilPoints,
    choice: Omit<RayChoice, 'sampling'>,
  ): Outcome<TracedBundle> {
    return once(this.#cache, key, () => {
      const known = this.#near && (this.#near.#cache.get(key) as Outcome<TracedBundle> | undefined);
      const step = known?.ok ? this.#step() : null;
      if (!known?.ok || step === null) return this.#trace(field, wave, points(), choice);
      const rays = onMovedPlane(known.value.rays, step, this.model.indices[wave].at(-1)!);
      return success({ points: known.value.points, rays });
    });
  }

  #trace(
    field: FieldPoint,
    wave: number,
    points: PupilPoints,
    choice: Omit<RayChoice, 'sampling'>,
  ): Outcome<TracedBundle> {
    const aimer = this.aimer();
    if (!aimer.ok) return aimer;
    const request = { field, wave, ...(choice.aim && { aim: choice.aim }) };
    const rays = traceSampling(aimer.value, request, points, choice.pupil === 'clipped');
    if (isAfocal(this.model.lens)) toAngles(rays);
    return success({ points, rays });
  }
}

/**
 * The evaluation of a lens alone, for those who look at no scene. Fails when the project has no such lens, or one that is too large.
 *
 * @param near - see `LensEvaluation`
 */
export function evaluateLens(
  project: Project,
  id: string,
  near: LensEvaluation | null = null,
): Outcome<LensEvaluation> {
  const lens = project.lenses.find((entry) => entry.id === id);
  if (!lens) return failure(`There is no lens “${id}”.`);
  const large = lensTooLarge(lens);
  return large ? failure(large) : success(new LensEvaluation(modelOf(project, lens), project, near));
}
