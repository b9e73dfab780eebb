import { Evaluation } from '../imaging/evaluation.ts';
import { evaluateMeasure } from '../measures/registry.ts';
import type { MeasureGoal } from '../project/improve.ts';
import type { Project } from '../project/model.ts';
import { part, sceneProject, source } from '../project/scene-fixtures.ts';
import { SAMPLING } from '../project/scene.ts';

/** Rays of each look. */
export const RAYS = 16_384;
/** The far focus of the mirror, mm from its vertex. */
export const IMAGE = 180;

const goal = (id: string, measure: string): MeasureGoal => ({
  id, kind: 'measure', measure, of: 'scene', settings: { detector: 'map', rays: RAYS }, weight: 1, target: 0,
}); // prettier-ignore

/** An elliptical mirror with a small lamp in one of its foci and a screen near the other; tilts in degrees, distance in mm. */
export function mirrorScene(tx: number, ty: number, distance: number, seed = SAMPLING.seed): Project {
  const project = sceneProject({
    parts: [
      part('mirror', { kind: 'shell', radius: 36, conic: -0.64, semi: 30 }, { finish: 'mirror', frame: { tx, ty } }),
      part('screen', { kind: 'sheet', width: 60, height: 60 }, { frame: { dz: distance }, finish: 'absorber' }),
    ],
    sources: [source({ region: { kind: 'disc', radius: 0.25 }, law: { kind: 'lambertian', half: 60 }, frame: { dz: 20, ty: 180 } })],
    detectors: [{ id: 'map', on: { kind: 'face', part: 'screen', face: 'face' }, columns: 100, rows: 100, counts: 'incident', light: 'radiometric' }],
    sampling: { seed },
  });
  return {
    ...project,
    parameters: {
      'scenes.scene.parts.mirror.frame.tx': { kind: 'free' },
      'scenes.scene.parts.mirror.frame.ty': { kind: 'free' },
      'scenes.scene.parts.screen.frame.dz': { kind: 'free' },
    },
    goals: [goal('x', 'detector_centroid_x'), goal('y', 'detector_centroid_y'), goal('r', 'detector_rms_radius')],
  };
} // prettier-ignore

/** A measure of the scene with its standard error. */
export function measured(project: Project, measure: string): { value: number; standardError: number } {
  const found = evaluateMeasure(new Evaluation(project), { measure, lens: 'scene', settings: { detector: 'map', rays: RAYS } });
  if (!found.ok) throw new Error(found.reason);
  return { value: found.value.value, standardError: found.value.standardError ?? NaN };
} // prettier-ignore

/** The square of the RMS radius is a parabola in the distance, since rays are straight: its least value, from three places. */
export function leastRadius(): number {
  const [a, b, c] = [-5, 0, 5].map(
    (off) => measured(mirrorScene(0, 0, IMAGE + off), 'detector_rms_radius').value ** 2,
  );
  const [slope, bend] = [(c - a) / 10, (a - 2 * b + c) / 25];
  return Math.sqrt(b - slope ** 2 / (2 * bend));
}
