import type { Box } from '../bodies/face-form.ts';
import { inverse, type Rigid } from '../math/rigid.ts';
import type { Detector, Scene } from '../project/scene.ts';
import type { Finding } from '../sequence/lens-model.ts';
import { standingOf, type Standing } from './standing.ts';

/** A detector made ready. */
export interface CompiledDetector {
  readonly id: string;
  readonly detector: Detector;
  /** The face it lies on; null for free ones and the far field. */
  readonly face: { readonly part: string; readonly name: string } | null;
  /** Where a free one stands; null for those on faces. */
  readonly pose: Rigid | null;
  /** From the coordinates of the scene to its own, where it stands free. */
  readonly toOwn: Rigid | null;
  /** What its map covers: x and y of its face in mm, or degrees. */
  readonly range: { readonly x: readonly [number, number]; readonly y: readonly [number, number] };
  /** By cell: mm² of its face as seen along its normal, or sr. */
  readonly size: Float64Array;
}

/** Makes the detectors ready that are not left out. */
export function compileDetectors(
  scene: Scene,
  standing: Standing,
  faces: readonly { readonly part: string; readonly name: string; readonly form: { readonly box: Box } }[],
  findings: Finding[],
): CompiledDetector[] {
  return scene.detectors.flatMap((detector): CompiledDetector[] => {
    const pose = standingOf(standing, detector.id);
    if (!pose) return [];
    const { id, on, columns, rows } = detector;
    if (on.kind === 'face') {
      const face = faces.find(({ part, name }) => part === on.part && name === on.face);
      if (!face) {
        findings.push({
          severity: 'error',
          where: id,
          text: `There is no face ${on.part}.${on.face} to count light on.`,
        });
        return [];
      }
      const { min, max } = face.form.box;
      const range = { x: [min[0], max[0]], y: [min[1], max[1]] } as const;
      return [{ id, detector, face: { part: on.part, name: on.face }, pose: null, toOwn: null, range, size: flatCells(range, columns, rows) }]; // prettier-ignore
    }
    const free = { id, detector, face: null, pose, toOwn: inverse(pose) };
    if (on.kind === 'rectangle') {
      const range = { x: [-on.width / 2, on.width / 2], y: [-on.height / 2, on.height / 2] } as const;
      return [{ ...free, range, size: flatCells(range, columns, rows) }];
    }
    const range = { x: [-on.halfX, on.halfX], y: [-on.halfY, on.halfY] } as const;
    // A cell of azimuth H and elevation V holds ΔH (sin V₂ − sin V₁).
    const degree = Math.PI / 180;
    const width = ((2 * on.halfX) / columns) * degree;
    const size = Float64Array.from({ length: columns * rows }, (_, cell) => {
      const row = Math.floor(cell / columns);
      const from = (-on.halfY + (2 * on.halfY * row) / rows) * degree;
      const to = (-on.halfY + (2 * on.halfY * (row + 1)) / rows) * degree;
      return width * (Math.sin(to) - Math.sin(from));
    });
    return [{ ...free, range, size }];
  });
}

function flatCells(
  { x, y }: { readonly x: readonly [number, number]; readonly y: readonly [number, number] },
  columns: number,
  rows: number,
): Float64Array {
  return new Float64Array(columns * rows).fill(((x[1] - x[0]) * (y[1] - y[0])) / (columns * rows));
}
