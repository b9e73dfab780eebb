import type { Triangles } from '../../bodies/face-form.ts';
import { sides } from '../../detectors/place.ts';
import { PLACE_KINDS } from '../../detectors/registry.ts';
import type { CompiledDetector } from '../../scene/detectors.ts';

/** Straight pieces as x, y, z of both ends, one after another. */
export type Pieces = Float32Array;

/** The outline of a detector, in its own coordinates; empty for what has none. One on a face is drawn as the frame of its map if that is flat. */
export function detectorOutline({ detector: { on }, range: { x, y }, chart }: CompiledDetector): Pieces {
  if (on.kind !== 'face') return Float32Array.from(PLACE_KINDS.of(on.kind).outline(on).flat());
  return Float32Array.from(chart.kind === 'flat' ? sides(x, y, 0).flat() : []);
}

/** Where triangles cross the plane in which one coordinate has a value: the lines of a section. */
export function sectionLines({ positions, indices }: Triangles, axis: 0 | 1 | 2, value: number): Pieces {
  const pieces: number[] = [];
  for (let k = 0; k < indices.length; k += 3) {
    const ends: number[] = [];
    for (let edge = 0; edge < 3; edge++) {
      const [a, b] = [3 * indices[k + edge], 3 * indices[k + ((edge + 1) % 3)]];
      const [from, to] = [positions[a + axis] - value, positions[b + axis] - value];
      // A corner that lies in the plane belongs to its far side, so that no piece is found twice.
      if (from < 0 === to < 0) continue;
      const part = from / (from - to);
      for (let i = 0; i < 3; i++)
        ends.push(i === axis ? value : positions[a + i] + part * (positions[b + i] - positions[a + i]));
    }
    if (ends.length === 6) pieces.push(...ends);
  }
  return Float32Array.from(pieces);
}
