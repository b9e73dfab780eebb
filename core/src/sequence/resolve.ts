import { RAY_STATUS, statusReason } from '../compute/ray-block.ts';
import { failure, success, type Outcome } from '../math/outcome.ts';
import { extentToNumber } from '../math/parameter.ts';
import type { FieldPoint, Lens } from '../project/model.ts';
import { surfaceTitle } from '../project/lens-edits.ts';
import { Aimer } from './aiming.ts';
import { traceBundle } from './bundle.ts';
import { convertFields } from './convert.ts';
import { launchPupil } from './launch.ts';
import type { Finding, LensModel } from './lens-model.ts';
import { firstOrder } from './paraxial.ts';

const ROUNDS = 40;
/** Relative to what is asked for, and what is taken when rounding allows no better. */
const MET = 1e-13;
const GOOD_ENOUGH = 1e-9;

/**
 * A lens whose aperture or fields are asked for by what real rays do at the image, with those that do it: an entrance pupil for a
 * real working F-number, angles or object points for real image heights. Any other lens is returned as it is. What cannot be reached
 * is a finding.
 */
export function resolveLens(model: LensModel): LensModel {
  const { aperture, fields } = model.lens;
  let resolved = model;
  const wrong: Finding[] = [];
  const waits = waitsFor(model);
  if (waits) {
    resolved = withLens(model, { aperture: entrancePupil(WAITING_DIAMETER) });
    wrong.push({
      severity: 'warning',
      text: `${waits} A beam of ${WAITING_DIAMETER} mm is traced meanwhile.`,
    });
  } else if (aperture.kind === 'real_working_f_number') {
    const diameter = entranceDiameterFor(model, aperture.value);
    if (diameter.ok) resolved = withLens(model, { aperture: entrancePupil(diameter.value) });
    else
      wrong.push({
        severity: 'error',
        text: diameter.reason,
        ...(diameter.where && { where: diameter.where }),
      });
  }
  if (fields.kind === 'real_image_height') {
    const found = launchedFields(resolved);
    if (found.ok) {
      resolved = withLens(resolved, { fields: found.value.fields });
      wrong.push(...found.value.wrong);
    } else wrong.push({ severity: 'error', text: found.reason });
  }
  if (resolved === model && wrong.length === 0) return model;
  return { ...resolved, asked: model.lens, findings: [...resolved.findings, ...wrong] };
}

/** Diameter of the beam that is traced while an aperture waits for what it is counted by, mm. */
const WAITING_DIAMETER = 10;

/** What a system aperture waits for that the lens cannot give yet, in a sentence; null if it can be counted. */
function waitsFor(model: LensModel): string | null {
  const { aperture, object } = model.lens;
  if (aperture.kind === 'object_na')
    return object.distance === 'infinity' ? 'The object NA waits for an object at a finite distance.' : null;
  if (!/f_number/.test(aperture.kind) || model.primary < 0) return null;
  const data = firstOrder(withLens(model, { aperture: entrancePupil(WAITING_DIAMETER) }), model.primary);
  if (!data.ok) return null;
  const { focalLength, workingFNumber } = data.value;
  const counted = aperture.kind === 'image_f_number' ? focalLength : workingFNumber;
  return Number.isFinite(counted) ? null : 'The F-number waits for power: nothing focuses the light yet.';
}

const entrancePupil = (value: number) => ({ kind: 'entrance_pupil_diameter', value }) as const;

function withLens(model: LensModel, change: Partial<Lens>): LensModel {
  return { ...model, lens: { ...model.lens, ...change } };
}

function aimerOf(model: LensModel): Outcome<Aimer> {
  if (model.primary < 0) return failure('No primary wavelength is chosen.');
  const primary = firstOrder(model, model.primary);
  if (!primary.ok) return primary;
  const pupil = launchPupil(model, primary.value);
  return pupil.ok ? success(new Aimer(model, pupil.value)) : pupil;
}

const AXIS: FieldPoint = { id: 'axis', x: 0, y: 0, weight: 1 };

/**
 * n′ sin U′ at the image: half the angle between the two rays of the axial point through the top and the bottom of the pupil, at the
 * primary wavelength, aimed as the lens aims.
 */
export function imageSine(model: LensModel): Outcome<number> {
  const aimer = aimerOf(model);
  if (!aimer.ok) return aimer;
  const request = { field: AXIS, wave: model.primary, px: [0, 0], py: [1, -1] };
  const { l, m, n, status, at } = traceBundle(aimer.value, request, { clip: false });
  const lost = status.findIndex((one) => one !== RAY_STATUS.alive);
  if (lost >= 0) {
    const { id } = model.surfaces[at[lost]];
    return failure(`The marginal ray ${statusReason(status[lost])} at ${surfaceTitle(model.lens, at[lost])}.`, id);
  }
  // sin of half the angle between two unit vectors is half the length of their difference.
  const half = Math.hypot(l[0] - l[1], m[0] - m[1], n[0] - n[1]) / 2;
  return success(Math.abs(model.indices[model.primary][model.surfaces.length]) * half);
}

/** The entrance pupil diameter with which rays at the image have the working F-number asked for: secants from the paraxial one. */
function entranceDiameterFor(model: LensModel, fNumber: number): Outcome<number> {
  const target = 1 / (2 * fNumber);
  const sineAt = (diameter: number) => imageSine(withLens(model, { aperture: entrancePupil(diameter) }));
  const paraxial =
    model.primary < 0
      ? null
      : firstOrder(withLens(model, { aperture: { kind: 'working_f_number', value: fNumber } }), model.primary);
  if (!paraxial?.ok) return paraxial ?? failure('No primary wavelength is chosen.');
  let [before, missBefore] = [0, -target];
  let diameter = paraxial.value.entrancePupilDiameter;
  let reason = '';
  let best = { diameter, miss: Infinity };
  for (let round = 0; round < ROUNDS; round++) {
    const sine = sineAt(diameter);
    if (!sine.ok) {
      reason = sine.reason;
      diameter = (before + diameter) / 2; // too wide to be traced: half way back
      continue;
    }
    const miss = sine.value - target;
    if (Math.abs(miss) < Math.abs(best.miss)) best = { diameter, miss };
    if (
      Math.abs(miss) <= MET * target ||
      (Math.abs(miss) >= Math.abs(best.miss) &&
        Math.abs(best.miss) <= GOOD_ENOUGH * target &&
        best.diameter !== diameter)
    )
      return success(best.diameter);
    const slope = (miss - missBefore) / (diameter - before);
    [before, missBefore] = [diameter, miss];
    diameter -= miss / slope;
    if (!(diameter > 0) || !Number.isFinite(diameter)) break;
  }
  if (Math.abs(best.miss) <= GOOD_ENOUGH * target) return success(best.diameter);
  return failure(`No entrance pupil gives the lens a real working F-number of ${fNumber}. ${reason}`.trim());
}

/** Angles (far object) or object points whose real chief rays meet the image surface where the fields say. */
function launchedFields(model: LensModel): Outcome<{ fields: Lens['fields']; wrong: Finding[] }> {
  if (model.primary < 0) return failure('No primary wavelength is chosen.');
  const far = !Number.isFinite(extentToNumber(model.lens.object.distance));
  const kind = far ? 'angle' : 'object_height';
  const { points } = model.lens.fields;
  const byHeight = withLens(model, { fields: { kind: 'image_height', points } });
  const primary = firstOrder(byHeight, model.primary);
  if (!primary.ok) return primary;
  const paraxial = convertFields(byHeight.lens, primary.value, kind);
  if (!paraxial.ok) return paraxial;
  const launched = withLens(model, { fields: { kind, points: [] } });
  const aimer = aimerOf(launched);
  if (!aimer.ok) return aimer;
  const wrong: Finding[] = [];
  const found = points.map((point, i) => {
    const start = paraxial.value.points[i];
    const at = launchFor(aimer.value, point, start, far);
    if (at) return { ...point, x: at[0], y: at[1] };
    wrong.push({
      severity: 'error',
      where: point.id,
      text: `No chief ray meets the image at (${point.x}, ${point.y}) mm: the paraxial field is used for ${point.id}.`,
    });
    return start;
  });
  return success({ fields: { kind, points: found }, wrong });
}

/** Newton's method on the chief ray's image point, its derivatives by differences; null where it does not settle. */
function launchFor(aimer: Aimer, target: FieldPoint, start: FieldPoint, far: boolean): [number, number] | null {
  const { model } = aimer;
  const chiefAt = (x: number, y: number): [number, number] | null => {
    const request = { field: { id: 'sought', x, y, weight: 1 }, wave: model.primary, px: [0], py: [0] };
    const rays = traceBundle(aimer, request, { clip: false });
    return rays.status[0] === RAY_STATUS.alive ? [rays.x[0], rays.y[0]] : null;
  };
  const size = Math.max(Math.hypot(target.x, target.y), 1e-6);
  const h = 1e-5 * Math.max(Math.hypot(start.x, start.y), far ? 1 : size);
  let [x, y] = [start.x, start.y];
  let best: { at: [number, number]; miss: number } | null = null;
  for (let round = 0; round < ROUNDS; round++) {
    if (far && !(Math.abs(x) < 90 && Math.abs(y) < 90)) return null;
    const here = chiefAt(x, y);
    if (!here) {
      if (!best) {
        [x, y] = [0.9 * x, 0.9 * y]; // the paraxial guess lies beyond what can be traced
        continue;
      }
      [x, y] = [(x + best.at[0]) / 2, (y + best.at[1]) / 2];
      continue;
    }
    const [missX, missY] = [target.x - here[0], target.y - here[1]];
    const miss = Math.hypot(missX, missY) / size;
    if (miss <= MET || (best && miss >= best.miss && best.miss <= GOOD_ENOUGH))
      return miss <= (best?.miss ?? Infinity) ? [x, y] : best!.at;
    if (!best || miss < best.miss) best = { at: [x, y], miss };
    const [right, left, up, down] = [chiefAt(x + h, y), chiefAt(x - h, y), chiefAt(x, y + h), chiefAt(x, y - h)];
    if (!right || !left || !up || !down) return null;
    const [xx, yx] = [(right[0] - left[0]) / (2 * h), (right[1] - left[1]) / (2 * h)];
    const [xy, yy] = [(up[0] - down[0]) / (2 * h), (up[1] - down[1]) / (2 * h)];
    const det = xx * yy - xy * yx;
    x += (yy * missX - xy * missY) / det;
    y += (xx * missY - yx * missX) / det;
  }
  return best && best.miss <= GOOD_ENOUGH ? best.at : null;
}
