import { defineArea, type AreaPlace } from './area.ts';

export interface PolygonRecord extends AreaPlace {
  readonly kind: 'polygon';
  /** Corners in order, [x, y] in mm; at least three. */
  readonly points: readonly (readonly [x: number, y: number])[];
}

export const polygon = defineArea<PolygonRecord>({
  kind: 'polygon',
  title: 'Polygon',
  meaning:
    'The inside of a closed line through its corners; where the line crosses itself, inside and outside alternate.',
  parameters: [],
  compile: ({ points }) => ({
    contains: (x, y) => crossingsLeftOf(points, x, y) % 2 === 1,
    reach: Math.max(...points.map(([x, y]) => Math.hypot(x, y))),
    mirrorX: isMirrored(points),
  }),
});

/** How many edges a ray from (x, y) toward −x crosses. */
function crossingsLeftOf(points: PolygonRecord['points'], x: number, y: number): number {
  let count = 0;
  for (let i = 0, j = points.length - 1; i < points.length; j = i++) {
    const [[xi, yi], [xj, yj]] = [points[i], points[j]];
    if (yi > y !== yj > y && x > xi + ((y - yi) * (xj - xi)) / (yj - yi)) count++;
  }
  return count;
}

/** Whether the corners mirrored in x = 0 are the same ones in the opposite order. */
function isMirrored(points: PolygonRecord['points']): boolean {
  const count = points.length;
  const start = points.findIndex(([x, y]) => x === -points[0][0] && y === points[0][1]);
  if (start < 0) return false;
  return points.every(([x, y], i) => {
    const [mx, my] = points[(start - i + count) % count];
    return mx === -x && my === y;
  });
}
