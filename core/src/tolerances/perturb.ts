import { failure, success, type Outcome } from '../math/outcome.ts';
import { compose, inverse, rigidOf, type Rigid } from '../math/rigid.ts';
import { applyEdits, type Edit } from '../project/edit.ts';
import { surfaceTitle } from '../project/lens-edits.ts';
import { elementSurfaces } from '../project/lens-rows.ts';
import type { Lens, Project, Surface } from '../project/model.ts';
import { findParameter, setParameter } from '../project/parameters.ts';
import type { Motion, Tolerance, ToleranceTarget } from '../project/tolerances.ts';
import { placeSurfaces } from '../sequence/placement.ts';

/** By how much something departs from the design, in the unit of its tolerance. */
export interface Departure {
  readonly of: ToleranceTarget;
  readonly by: number;
}

/** The unit of a departure. Fails where there is no such parameter. */
export function toleranceUnit(project: Project, target: ToleranceTarget): Outcome<string> {
  if (target.kind === 'share') return success('%');
  if (target.kind === 'element') return success(target.motion.startsWith('tilt') ? '°' : 'mm');
  const found = findParameter(project, target.address);
  return found.ok ? success(found.value.spec.unit ?? '') : found;
}

/** What a tolerance is called: its name, or what it is about. */
export function toleranceTitle(project: Project, tolerance: Tolerance): string {
  if (tolerance.name) return tolerance.name;
  if (tolerance.kind === 'element') {
    const lens = project.lenses.find(({ id }) => id === tolerance.lens);
    const surface = lens?.surfaces.find(({ id }) => id === tolerance.surface);
    return `${surface?.after?.name ?? tolerance.surface} ${tolerance.motion.replace('_', ' ')}`;
  }
  const found = findParameter(project, tolerance.address);
  if (!found.ok) return tolerance.address;
  const word = found.value.spec.title.toLowerCase();
  const [, of, , id] = tolerance.address.split('.');
  const lens = project.lenses.find((one) => one.id === of);
  const index = lens?.surfaces.findIndex((one) => one.id === id) ?? -1;
  return `${lens && index >= 0 ? surfaceTitle(lens, index) : id} ${word}`;
}

/**
 * A project as it is made: every departure added to the design, numbers first, then motions of whole elements, in the order in which they are given.
 * Links and conditions are not followed: what is made does not know of them.
 *
 * Fails where something is not there, a number cannot have the value, or an element cannot move alone because the axis follows one of its
 * surfaces.
 */
export function perturbed(project: Project, departures: readonly Departure[]): Outcome<Project> {
  const numbers = new Map<string, number>();
  for (const { of: target, by } of departures) {
    if (target.kind === 'element') continue;
    const found = findParameter(project, target.address);
    if (!found.ok) return found;
    const { value } = found.value;
    const change = target.kind === 'share' ? (value * by) / 100 : by;
    if (!Number.isFinite(value)) return failure(`${target.address} is infinite: it has no departure.`, target.address);
    numbers.set(target.address, (numbers.get(target.address) ?? value) + change);
  }
  const edits: Edit[] = [];
  for (const [address, value] of numbers) {
    const found = findParameter(project, address);
    const edit = found.ok ? setParameter(found.value, value) : found;
    if (!edit.ok) return failure(`${address}: ${edit.reason}`, address);
    edits.push(edit.value);
  }
  let made = edits.length > 0 ? applyEdits(project, edits).project : project;
  for (const { of: target, by } of departures) {
    if (target.kind !== 'element' || by === 0) continue;
    const moved = moveElementBy(made, target.lens, target.surface, motionOf(target.motion, by));
    if (!moved.ok) return moved;
    made = applyEdits(made, moved.value).project;
  }
  return success(made);
}

/** A motion about the vertex of the first surface. */
function motionOf(motion: Motion, by: number): Rigid {
  const keys = { shift_x: 'dx', shift_y: 'dy', shift_z: 'dz', tilt_x: 'tx', tilt_y: 'ty' } as const;
  return rigidOf({ [keys[motion]]: by });
}

/** Edits of the frames of an element's surfaces that move it as a rigid body, in the coordinates of the axis that comes to its first one. */
function moveElementBy(project: Project, lensId: string, surface: string, motion: Rigid): Outcome<Edit[]> {
  const lens = project.lenses.find(({ id }) => id === lensId);
  const found = lens?.surfaces.find(({ id }) => id === surface);
  if (!lens || !found) return failure(`There is no surface “${surface}”.`, surface);
  const ids = elementSurfaces(project, lens, surface);
  if (ids.length < 2) return failure(`${titleOf(lens, found)} bounds no element: choose the front of one.`, surface);
  const { placed } = placeSurfaces(lens.surfaces);
  const axisOf = (id: string) => placed[lens.surfaces.findIndex((one) => one.id === id)].axis;
  const first = axisOf(ids[0]);
  const edits: Edit[] = [];
  for (const id of ids) {
    const one = lens.surfaces.find((other) => other.id === id)!;
    if (one.frame?.axis !== undefined && one.frame.axis !== 'return')
      return failure(`The axis follows ${titleOf(lens, one)}: its element cannot move alone.`, id);
    // The axis that comes to this surface, seen from the one that comes to the first.
    const here = compose(inverse(first), axisOf(id));
    const frame = compose(compose(inverse(here), compose(motion, here)), rigidOf(one.frame ?? {}));
    edits.push({ kind: 'set', path: `lenses.${lensId}.surfaces.${id}.frame`, value: frameOf(frame, one) });
  }
  return success(edits);
}

const titleOf = (lens: Lens, surface: Surface) => surfaceTitle(lens, lens.surfaces.indexOf(surface));

/** Shifts and tilts of a motion: angles of R = Rx·Ry·Rz. */
function frameOf({ shift: [dx, dy, dz], rotation: r }: Rigid, { frame }: Surface): Surface['frame'] {
  const degrees = 180 / Math.PI;
  return {
    ...frame,
    dx,
    dy,
    dz,
    tx: Math.atan2(-r[5], r[8]) * degrees,
    ty: Math.asin(Math.max(-1, Math.min(1, r[2]))) * degrees,
    tz: Math.atan2(-r[1], r[0]) * degrees,
  };
}
