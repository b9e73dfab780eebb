import type { FaceForm, Triangles } from '../../bodies/face-form.ts';
import { mapPlace } from '../../scene/charts.ts';
import type { CompiledDetector } from '../../scene/detectors.ts';
import { freeFace } from '../../detectors/registry.ts';

/** What a map is laid on: triangles in the coordinates of its detector, each with its own three corners. */
export interface LaidMap {
  /** x, y, z of each corner, mm. */
  readonly positions: Float32Array;
  /** By corner, across and up the map: 0 to 1, beyond for triangles that reach over its seam. */
  readonly places: Float32Array;
}

/** Meshes of more triangles are not laid with a map: they would have to be sent anew with every change. */
const MOST_TRIANGLES = 20_000;
const DETAIL = 72;

/** What carries the map of a detector; null for the far field, blocks of cells and very fine meshes. */
export function laidMap(detector: CompiledDetector, face: FaceForm | undefined): LaidMap | null {
  const form = face ?? freeFace(detector.detector.on);
  if (!form) return null;
  const { positions, indices }: Triangles = form.triangles(DETAIL);
  if (indices.length > 3 * MOST_TRIANGLES) return null;
  const { chart, range } = detector;
  const [wide, high] = [range.x[1] - range.x[0], range.y[1] - range.y[0]];
  const turning = chart.kind === 'cylinder' || chart.kind === 'sphere';
  const out = new Float64Array(2);
  const placeOf = (x: number, y: number, z: number): [number, number] => {
    mapPlace(chart, x, y, z, out);
    return [(out[0] - range.x[0]) / wide, (out[1] - range.y[0]) / high];
  };
  const laid: LaidMap = {
    positions: new Float32Array(3 * indices.length),
    places: new Float32Array(2 * indices.length),
  };
  for (let k = 0; k < indices.length; k += 3) {
    const corners = [0, 1, 2].map((i) => [...positions.subarray(3 * indices[k + i], 3 * indices[k + i] + 3)]);
    const [mx, my, mz] = [0, 1, 2].map((axis) => (corners[0][axis] + corners[1][axis] + corners[2][axis]) / 3);
    const [middle] = placeOf(mx, my, mz);
    corners.forEach(([x, y, z], i) => {
      const [across, up] = placeOf(x, y, z);
      laid.positions.set([x, y, z], 3 * (k + i));
      // Round a closed wall each corner is counted from the middle of its triangle the short way: none runs across the whole map.
      laid.places.set([turning ? across - Math.round(across - middle) : across, up], 2 * (k + i));
    });
  }
  return laid;
}
