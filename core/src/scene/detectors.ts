import { BUDGET, cellsOf, overBudget } from '../project/budget.ts';
import type { FaceForm } from '../bodies/face-form.ts';
import { ballMap, flatMap, wallMap, type CellMap } from '../detectors/cells.ts';
import { PLACE_KINDS, type DetectorPlace, type OwnPlace } from '../detectors/registry.ts';
import type { Channel } from './channels.ts';
import type { VolumeMeter } from './volume-meter.ts';
import { inverse, type Rigid } from '../math/rigid.ts';
import type { Detector, Scene } from '../project/scene.ts';
import type { Finding } from '../sequence/lens-model.ts';
import { standingOf, type Standing } from './standing.ts';

/** A detector made ready. */
export interface CompiledDetector extends Omit<CellMap, 'block'> {
  readonly id: string;
  readonly detector: Detector;
  /** The face it lies on; null for free ones and the far field. */
  readonly face: { readonly part: string; readonly name: string } | null;
  /** Where a free one stands; null for those on faces. */
  readonly pose: Rigid | null;
  /** From the coordinates of the scene to its own, where it stands free. */
  readonly toOwn: Rigid | null;
  /** What it counts apart. */
  readonly channels: readonly Channel[];
  /** What a block of cells needs to count. */
  readonly volume?: VolumeMeter;
}

type Faces = readonly {
  readonly part: string;
  readonly name: string;
  readonly form: Pick<FaceForm, 'box' | 'chart'>;
}[];

/**
 * Makes the detectors ready that are not excluded.
 *
 * @param channels - most channels that each counts apart
 */
export function compileDetectors(
  scene: Scene,
  standing: Standing,
  faces: Faces,
  channels: number,
  findings: Finding[],
): Uncounted[] {
  let count = 0;
  return scene.detectors.flatMap((detector): Uncounted[] => {
    const pose = standingOf(standing, detector.id);
    if (!pose) return [];
    const own = cellsOf(detector);
    const wrong = (text: string) => {
      findings.push({ severity: 'error', where: detector.id, text });
      return [];
    };
    const many = own * Math.max(1, channels);
    if (count + many > BUDGET.cells) return wrong(overBudget('cells', own, count, channels));
    count += many;
    const { on } = detector;
    const made = on.kind === 'face' ? faceDetector(detector, on, faces) : freeDetector(detector, on, pose);
    return typeof made === 'string' ? wrong(made) : [made];
  });
}

/** A detector before it is known what it counts apart. */
export type Uncounted = Omit<CompiledDetector, 'channels'>;
type FacePlace = Extract<DetectorPlace, { kind: 'face' }>;

/** What counts light on the face of a part; what is wrong, in a sentence, if there is no such face. */
function faceDetector(detector: Detector, { part: of, face: name }: FacePlace, faces: Faces): Uncounted | string {
  const { id, columns, rows } = detector;
  const face = faces.find((one) => one.part === of && one.name === name);
  if (!face) return `There is no face ${of}.${name} to count light on.`;
  const { min, max } = face.form.box;
  const { chart } = face.form;
  const common = { id, detector, face: { part: of, name }, pose: null, toOwn: null };
  if (chart?.kind === 'cylinder') return { ...common, ...wallMap(chart.radius, min[2], max[2], columns, rows) };
  if (chart?.kind === 'sphere') return { ...common, ...ballMap({ ...chart, kind: 'sphere' }, 180, 90, columns, rows) };
  return { ...common, ...flatMap({ x: [min[0], max[0]], y: [min[1], max[1]] }, columns, rows) };
}

/** What counts light by itself: on a sheet of its own, in a block of cells, or over directions. */
function freeDetector(detector: Detector, on: OwnPlace, pose: Rigid): Uncounted {
  const { id, columns, rows } = detector;
  const toOwn = inverse(pose);
  const { block, ...map } = PLACE_KINDS.of(on.kind).map(on, columns, rows);
  return { id, detector, face: null, pose, toOwn, ...map, ...(block && { volume: { toOwn, ...block } }) };
}
