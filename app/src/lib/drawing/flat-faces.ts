import type { ViewFace } from '@ulvex/core';

/** The normal of a face that is drawn flat, in the coordinates of the scene; null for a curved one. */
export function flatNormal({ triangles: { normals } }: ViewFace): readonly [number, number, number] | null {
  for (let i = 3; i < normals.length; i++) if (Math.abs(normals[i] - normals[i % 3]) > 1e-5) return null;
  return normals.length < 3 ? null : [normals[0], normals[1], normals[2]];
}
