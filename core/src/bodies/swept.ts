import type { Triple } from '../math/rigid.ts';
import { defineBody, facing, type BuiltFace } from './body.ts';
import { PlaneFace, polygonArea, type Corner } from './plane-face.ts';

/** A polygon drawn along a path of straight pieces. */
export interface Swept {
  readonly kind: 'swept';
  /** Corners [x, y] of the profile, square to the first piece of the path; the last is joined to the first. */
  readonly points: readonly Corner[];
  /** Places [x, y, z] that the origin of the profile is drawn through. */
  readonly path: readonly Triple[];
}

const minus = (a: Triple, b: Triple): Triple => [a[0] - b[0], a[1] - b[1], a[2] - b[2]];
const dot = (a: Triple, b: Triple) => a[0] * b[0] + a[1] * b[1] + a[2] * b[2];
const unit = (a: Triple): Triple => {
  const length = Math.hypot(...a);
  return [a[0] / length, a[1] / length, a[2] / length];
};
const cross = (a: Triple, b: Triple): Triple => [
  a[1] * b[2] - a[2] * b[1],
  a[2] * b[0] - a[0] * b[2],
  a[0] * b[1] - a[1] * b[0],
];
const along = (a: Triple, b: Triple, t: number): Triple => [a[0] + t * b[0], a[1] + t * b[1], a[2] + t * b[2]];

/** Directions of the pieces, and the corners of the profile where they end: mitred where two pieces meet, so that every wall is flat. */
function sections({ points, path }: Swept): { directions: Triple[]; corners: Triple[][] } {
  const directions = path.slice(1).map((end, i) => unit(minus(end, path[i])));
  const [z] = directions;
  // x of the profile as near to that of the body as the first piece allows.
  const x = unit(
    Math.abs(z[0]) < 0.9 ? minus([1, 0, 0], [z[0] * z[0], z[0] * z[1], z[0] * z[2]]) : cross([0, 1, 0], z),
  );
  const y = cross(z, x);
  const first = points.map(([u, v]) => along(along(path[0], x, u), y, v));
  const corners = [first];
  directions.forEach((direction, i) => {
    const next = directions[i + 1] ?? direction;
    const plane = unit([direction[0] + next[0], direction[1] + next[1], direction[2] + next[2]]);
    corners.push(
      corners[i].map((corner) =>
        along(corner, direction, dot(minus(path[i + 1], corner), plane) / dot(direction, plane)),
      ),
    );
  });
  return { directions, corners };
}

/** A flat face through corners that lie in one plane, which run to the left as seen from outside. */
function wall(name: string, corners: readonly Triple[], outward: Triple): BuiltFace {
  const x = unit(minus(corners[1], corners[0]));
  const y = unit(cross(outward, x));
  const flat = corners.map((corner): Corner => {
    const off = minus(corner, corners[0]);
    return [dot(off, x), dot(off, y)];
  });
  return facing(name, new PlaneFace(flat), corners[0], x, y);
}

export const swept = defineBody<Swept>({
  kind: 'swept',
  title: 'Swept profile',
  meaning:
    'A closed profile of straight pieces, drawn along a path of straight pieces with mitred corners, such ' +
    'as a bent light guide or duct. Faces: front, back, wall_1_1 … (piece of the path, piece of the ' +
    'profile).',
  first: {
    kind: 'swept',
    points: [
      [-3, -3],
      [3, -3],
      [3, 3],
      [-3, 3],
    ],
    path: [
      [0, 0, 0],
      [0, 0, 20],
      [0, 15, 35],
    ],
  },
  sketch: 'M3 12c0 -7 4 -10 14 -10v4c-7 0 -10 2 -10 6z',
  points: { points: ['x', 'y'], path: ['x', 'y', 'z'] },
  solid: true,
  parameters: [],
  objection(record) {
    const { points, path } = record;
    if (points.length < 3) return 'a profile needs three corners';
    if (polygonArea(points) === 0) return 'the profile encloses nothing';
    if (path.length < 2) return 'a path needs two places';
    if (path.some((place, i) => i > 0 && Math.hypot(...minus(place, path[i - 1])) === 0))
      return 'two places of the path are the same';
    const { directions, corners } = sections(record);
    for (let i = 1; i < directions.length; i++)
      if (dot(directions[i - 1], directions[i]) < -0.5) return `the path turns by more than 120° at its place ${i + 1}`;
    const short = directions.findIndex((direction, i) =>
      corners[i].some((corner, k) => !(dot(minus(corners[i + 1][k], corner), direction) > 0)),
    );
    return short < 0 ? null : `piece ${short + 1} of the path is too short for the mitres at its ends`;
  },
  build(record) {
    const positive = polygonArea(record.points) > 0;
    const points = positive ? record.points : [...record.points].reverse();
    const { directions, corners } = sections({ ...record, points });
    const count = points.length;
    const number = (k: number) => (positive ? k + 1 : count - ((k + 1) % count));
    const walls = directions.flatMap((direction, i) =>
      points.map((_, k) => {
        const next = (k + 1) % count;
        const [a, b, c, d] = [corners[i][k], corners[i][next], corners[i + 1][next], corners[i + 1][k]];
        const outward = unit(cross(minus(b, a), direction));
        return wall(`wall_${i + 1}_${number(k)}`, [a, b, c, d], outward);
      }),
    );
    const [first, last] = [directions[0], directions[directions.length - 1]];
    return [
      wall('front', [...corners[0]].reverse(), [-first[0], -first[1], -first[2]]),
      wall('back', corners[corners.length - 1], last),
      ...walls,
    ];
  },
});
