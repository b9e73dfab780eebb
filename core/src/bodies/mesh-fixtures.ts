/** Corners and triangles of a sphere of rings and segments, or of what its radius makes of it; closed, outside out. */
export function ball(
  rings: number,
  segments: number,
  radiusAt: (theta: number, phi: number) => number,
): { corners: Float32Array; triangles: Uint32Array } {
  const corners = [0, 0, radiusAt(0, 0)];
  for (let i = 1; i < rings; i++)
    for (let j = 0; j < segments; j++) {
      const [theta, phi] = [(Math.PI * i) / rings, (2 * Math.PI * j) / segments];
      const r = radiusAt(theta, phi);
      corners.push(r * Math.sin(theta) * Math.cos(phi), r * Math.sin(theta) * Math.sin(phi), r * Math.cos(theta));
    }
  const last = corners.length / 3;
  corners.push(0, 0, -radiusAt(Math.PI, 0));
  const at = (i: number, j: number) => (i === 0 ? 0 : i === rings ? last : 1 + (i - 1) * segments + (j % segments));
  const triangles: number[] = [];
  for (let i = 0; i < rings; i++)
    for (let j = 0; j < segments; j++) {
      if (i > 0) triangles.push(at(i, j), at(i + 1, j), at(i, j + 1));
      if (i < rings - 1) triangles.push(at(i, j + 1), at(i + 1, j), at(i + 1, j + 1));
    }
  return { corners: Float32Array.from(corners), triangles: Uint32Array.from(triangles) };
}

/** The eight corners and twelve triangles of a box about the origin. */
export function block(width: number, height: number, depth: number): { corners: Float32Array; triangles: Uint32Array } {
  const corners = [...Array(8).keys()].flatMap((k) => [
    (k & 1 ? width : -width) / 2,
    (k & 2 ? height : -height) / 2,
    (k & 4 ? depth : -depth) / 2,
  ]);
  const sides = [
    [0, 2, 3, 1],
    [4, 5, 7, 6],
    [0, 1, 5, 4],
    [2, 6, 7, 3],
    [0, 4, 6, 2],
    [1, 3, 7, 5],
  ];
  const triangles = sides.flatMap(([a, b, c, d]) => [a, b, c, a, c, d]);
  return { corners: Float32Array.from(corners), triangles: Uint32Array.from(triangles) };
}
