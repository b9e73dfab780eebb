import { Evaluation } from '../imaging/evaluation/evaluation.ts';
import { chiefAtImage } from '../imaging/field/image-point.ts';
import { surfaceScale, type SurfaceScale } from '../imaging/field/image-scale.ts';
import { REFOCUS_CHOICE } from '../imaging/point/refocus.ts';
import { rmsOverFields, weightedSpots } from '../imaging/point/spot.ts';
import { minimumNear } from '../math/minimum.ts';
import { failure, success, type Outcome } from '../math/outcome.ts';
import { solveOne } from '../math/solve-one.ts';
import type { FieldPoint, Lens, Project } from '../project/model.ts';
import { surfaceTitle } from '../project/lens-edits.ts';
import { defineOperation } from './operation.ts';
import { OPERATION_TITLES } from './titles.ts';
import { turnedRun, turnedStates } from './turned-run.ts';

/** Share of the object distance by which a search for the best focus begins. */
const FIRST_STEP = 1e-3;

export const turnAround = defineOperation({
  id: 'turn_around',
  title: OPERATION_TITLES.turn_around,
  meaning:
    'Makes a camera lens a projection lens: surfaces end for end, image and object change places. What ' +
    'was the image height becomes the object height, the stop keeps its size, the throw (from the last ' +
    'vertex to the new image) is held, and the short gap in front is refocused for the smallest RMS spot.',
  on: 'lens',
  settings: {
    throw: { kind: 'number', title: 'Throw', unit: 'mm', min: 1e-3, max: 1e9, fallback: 1000 },
    spacing: {
      kind: 'choice',
      title: 'Object heights',
      options: ['equal areas', 'equal steps', 'as they were'],
      fallback: 'equal areas',
    },
    refocus: {
      kind: 'choice',
      title: 'Refocus',
      options: ['RMS spot', 'paraxial image', 'none'],
      fallback: 'RMS spot',
    },
  },
  run({ project, lens }, { throw: distance, spacing, refocus }) {
    const last = lens.surfaces.length - 2;
    const evaluated = new Evaluation(project).lens(lens.id);
    if (!evaluated.ok) return evaluated;
    const primary = evaluated.value.primary();
    if (!primary.ok) return primary;
    const before = lens.surfaces[last].after!;
    if (before.material !== 'air')
      return failure(`The image lies in ${before.material}, not in air: the lens cannot be turned around.`);
    if (!(before.thickness > 0)) return failure('The image does not lie after the lens: there is no gap to refocus.');
    if (lens.imageSpace === 'afocal')
      return failure('The image lies at infinity: an object there cannot be put at a height.');
    const turned = turnedRun(lens, 0, last);
    if (!turned.ok) return turned;
    const heights = objectHeights(evaluated.value, spacing);
    if (!heights.ok) return heights;
    const surfaces = turned.value.with(-1, { ...turned.value[last], after: { thickness: distance, material: 'air' } });
    const image = lens.surfaces[last + 1];
    const made = (gap: number): Lens => ({
      ...lens,
      object: { distance: gap },
      aperture: { kind: 'stop_semi_aperture', value: primary.value.stopSemiAperture },
      fields: { kind: 'object_height', points: heights.value },
      surfaces: [...surfaces, { ...image, shape: { kind: 'plane' } }],
    });
    const focused = focusedGap(project, made, before.thickness, distance, refocus);
    if (!focused.ok) return focused;
    const { gap, rms } = focused.value;
    const next = made(gap);
    const path = `lenses.${lens.id}`;
    const states = turnedStates(project, lens, 0, last);
    const told = (value: number) => Number(value.toPrecision(6));
    const largest = Math.max(...heights.value.map(size));
    const scale = enlargement(project, next);
    const times = ({ value, edge }: NonNullable<typeof scale>) =>
      `: enlarged ${told(Math.abs(value))} times` +
      (edge === null ? '' : `, ${told(Math.abs(edge))} at the largest height`);
    const enlarged = scale === null ? '' : times(scale);
    return success({
      edits: [
        { kind: 'set', path: `${path}.object`, value: next.object },
        { kind: 'set', path: `${path}.aperture`, value: next.aperture },
        { kind: 'set', path: `${path}.fields`, value: next.fields },
        { kind: 'set', path: `${path}.surfaces`, value: next.surfaces },
        ...(states ? [{ kind: 'set' as const, path: 'parameters', value: states }] : []),
      ],
      label: `Turn ${lens.name || 'the lens'} around`,
      notes: [
        `object heights up to ${told(largest)} mm, as the image was${spacing === 'as they were' ? '' : `, in ${spacing}`}`,
        `stop ${surfaceTitle(
          next,
          next.surfaces.findIndex(({ id }) => id === next.stop),
        )}: semi-aperture ${told(primary.value.stopSemiAperture)} mm, as it was`,
        `throw ${told(distance)} mm${enlarged}`,
        `object ${told(gap)} mm in front of the first vertex; the image was ${told(before.thickness)} mm after the last`,
        ...(rms === null ? [] : [`RMS spot over the fields ${told(rms * 1000)} µm`]),
      ],
    });
  },
});

/** How many times larger the screen shows the object; null if no chief ray arrives there. */
function enlargement(project: Project, lens: Lens): SurfaceScale | null {
  const evaluated = new Evaluation(withLens(project, lens)).lens(lens.id);
  const scale = evaluated.ok ? surfaceScale(evaluated.value) : evaluated;
  return scale.ok ? scale.value : null;
}

const size = ({ x, y }: { readonly x: number; readonly y: number }) => Math.hypot(x, y);

function withLens(project: Project, lens: Lens): Project {
  return { ...project, lenses: project.lenses.map((one) => (one.id === lens.id ? lens : one)) };
}

type Lensed = ReturnType<Evaluation['lens']> & { readonly ok: true };

/** Where chief rays met the image, as heights of an object: spread anew out to the farthest, or as they were. */
function objectHeights(lens: Lensed['value'], spacing: string): Outcome<FieldPoint[]> {
  const { points } = lens.model.lens.fields;
  const met: { readonly x: number; readonly y: number }[] = [];
  for (const point of points) {
    const chief = chiefAtImage(lens, point);
    if (!chief.ok) return chief;
    met.push({ x: chief.value.x[0], y: chief.value.y[0] });
  }
  if (spacing === 'as they were') return success(points.map((point, k) => ({ ...point, ...met[k] })));
  const far = met.reduce((best, one) => (size(one) > size(best) ? one : best));
  const steps = Math.max(1, points.length - 1);
  return success(
    points.map((point, k) => {
      const share = spacing === 'equal areas' ? Math.sqrt(k / steps) : k / steps;
      return { ...point, x: far.x * share, y: far.y * share };
    }),
  );
}

/** The object distance for which the image lies at the throw. */
function focusedGap(
  project: Project,
  made: (gap: number) => Lens,
  start: number,
  distance: number,
  refocus: string,
): Outcome<{ gap: number; rms: number | null }> {
  const evaluate = (gap: number) => {
    const lens = made(gap);
    return new Evaluation(withLens(project, lens)).lens(lens.id);
  };
  const rmsAt = (gap: number): number => {
    const lens = gap > 0 ? evaluate(gap) : null;
    if (!lens?.ok) return NaN;
    const spots = weightedSpots(lens.value, REFOCUS_CHOICE);
    const rms = spots.ok ? rmsOverFields(spots.value, 'centroid') : spots;
    return rms.ok ? rms.value : NaN;
  };
  const told = (gap: number) => {
    const rms = rmsAt(gap);
    return success({ gap, rms: Number.isNaN(rms) ? null : rms });
  };
  if (refocus === 'none') return told(start);
  const misses = (gap: number): number => {
    const lens = gap > 0 ? evaluate(gap) : null;
    const primary = lens?.ok ? lens.value.primary() : null;
    // By reciprocals: the image runs through infinity where the object comes into the focus.
    return primary?.ok ? 1 / primary.value.imageDistance - 1 / distance : NaN;
  };
  const paraxial = solveOne({
    f: misses,
    start,
    step: FIRST_STEP * start,
    enough: (value) => Math.abs(value) * distance < 1e-10,
    from: 0,
  });
  if (paraxial === null) return failure(`No object distance puts an image at a throw of ${distance} mm.`);
  if (refocus === 'paraxial image') return told(paraxial);
  const best = minimumNear(rmsAt, paraxial, FIRST_STEP * paraxial, 1e-6);
  if (!best) return failure('The spots have no best focus near the paraxial one: rays are missing, see the findings.');
  return success({ gap: best.x, rms: best.value });
}
