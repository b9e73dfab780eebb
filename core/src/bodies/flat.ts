import { defineBody, facing, length, type BuiltFace } from './body.ts';
import { PlaneFace, polygonArea, type Corner } from './plane-face.ts';
import { coneFace, discFace } from './quadric-face.ts';
import { upright } from './body.ts';

const WIDTH = length('width', 'Width', 'Along x.');
const HEIGHT = length('height', 'Height', 'Along y.');
const THICKNESS = length('thickness', 'Thickness', 'Along z, from z = 0 on.');

function rectangle(width: number, height: number): Corner[] {
  const [x, y] = [width / 2, height / 2];
  return [
    [-x, -y],
    [x, -y],
    [x, y],
    [-x, y],
  ];
}

/** The walls and ends of a polygon in x and y, drawn out along z from 0 on. */
export function drawnOut(points: readonly Corner[], depth: number, names: (wall: number) => string): BuiltFace[] {
  const corners = polygonArea(points) > 0 ? points : [...points].reverse();
  const turned = corners !== points;
  const walls = corners.map(([x0, y0], i) => {
    const [x1, y1] = corners[(i + 1) % corners.length];
    const span = Math.hypot(x1 - x0, y1 - y0);
    const along = [(x1 - x0) / span, (y1 - y0) / span, 0] as const;
    const number = turned ? points.length - ((i + 1) % points.length) : i + 1;
    // x of the face along the edge, y along z: their product points away from corners that run from x toward y.
    return facing(
      names(number),
      new PlaneFace(rectangle(span, depth)),
      [(x0 + x1) / 2, (y0 + y1) / 2, depth / 2],
      along,
      [0, 0, 1],
    );
  });
  return [
    facing('front', new PlaneFace(corners.map(([x, y]) => [-x, y])), [0, 0, 0], [-1, 0, 0], [0, 1, 0]),
    facing('back', new PlaneFace(corners), [0, 0, depth], [1, 0, 0], [0, 1, 0]),
    ...walls,
  ];
}

const SIDES = ['bottom', 'right', 'top', 'left'];

/** A rectangular block. */
export interface Block {
  readonly kind: 'box';
  readonly width: number;
  readonly height: number;
  readonly thickness: number;
}

export const box = defineBody<Block>({
  kind: 'box',
  title: 'Box',
  meaning:
    'A rectangular block or plate about z, its front at z = 0. Faces: front, back, left (−x), right, bottom (−y), top.',
  first: { kind: 'box', width: 20, height: 20, thickness: 10 },
  sketch: 'M5 2h10v10h-10z',
  solid: true,
  parameters: [WIDTH, HEIGHT, THICKNESS],
  build: ({ width, height, thickness }) => drawnOut(rectangle(width, height), thickness, (wall) => SIDES[wall - 1]),
});

/** A rectangular plate with a round hole. */
export interface PlateWithHole {
  readonly kind: 'plate_hole';
  readonly width: number;
  readonly height: number;
  readonly thickness: number;
  readonly hole: number;
}

export const plateWithHole = defineBody<PlateWithHole>({
  kind: 'plate_hole',
  title: 'Plate with hole',
  meaning:
    'A rectangular plate about z with a round hole in its middle. Faces: front, back, left, right, bottom, top, bore.',
  first: { kind: 'plate_hole', width: 40, height: 40, thickness: 2, hole: 10 },
  sketch: 'M8 1h4v4h-4z M8 9h4v4h-4z',
  solid: true,
  parameters: [WIDTH, HEIGHT, THICKNESS, length('hole', 'Hole radius', 'Of the hole in the middle.')],
  objection: ({ width, height, hole }) =>
    2 * hole < Math.min(width, height) ? null : 'the hole is larger than the plate',
  build({ width, height, thickness, hole }) {
    const corners = rectangle(width, height);
    const holes = [{ x: 0, y: 0, radius: hole }];
    const faces = drawnOut(corners, thickness, (wall) => SIDES[wall - 1]).slice(2);
    return [
      facing('front', new PlaneFace(corners, holes), [0, 0, 0], [-1, 0, 0], [0, 1, 0]),
      facing('back', new PlaneFace(corners, holes), [0, 0, thickness], [1, 0, 0], [0, 1, 0]),
      ...faces,
      upright('bore', coneFace(hole, 0, hole, thickness, -1)),
    ];
  },
});

/** A three-sided prism. */
export interface Prism {
  readonly kind: 'prism';
  readonly apex: number;
  readonly side: number;
  readonly length: number;
}

export const prism = defineBody<Prism>({
  kind: 'prism',
  title: 'Prism',
  meaning:
    'An isosceles prism with its edge along x and its apex toward +y; the middle of its base lies at the ' +
    'origin. Faces: entrance (toward −z), exit, base, left, right.',
  first: { kind: 'prism', apex: 60, side: 20, length: 20 },
  sketch: 'M10 1.5l7 11h-14z',
  solid: true,
  parameters: [
    {
      id: 'apex',
      title: 'Apex angle',
      meaning: 'Between entrance and exit.',
      unit: '°',
      kind: 'angle',
      above: 0,
      below: 180,
      transform: 'value',
    },
    length('side', 'Side', 'From the apex to the base along a refracting face.'),
    length('length', 'Length', 'Along its edge, in x.'),
  ],
  build({ apex, side, length: x }) {
    const half = (apex * Math.PI) / 360;
    const [top, base] = [side * Math.cos(half), side * Math.sin(half)];
    // Drawn out along x: its own plane is (y, z).
    const [a, b, c]: Corner[] = [
      [top, 0],
      [0, base],
      [0, -base],
    ];
    const wall = (name: string, [y0, z0]: Corner, [y1, z1]: Corner): BuiltFace => {
      const span = Math.hypot(y1 - y0, z1 - z0);
      const along = [0, (y1 - y0) / span, (z1 - z0) / span] as const;
      return facing(name, new PlaneFace(rectangle(span, x)), [0, (y0 + y1) / 2, (z0 + z1) / 2], along, [1, 0, 0]);
    };
    const end = [a, b, c];
    return [
      wall('entrance', c, a),
      wall('exit', a, b),
      wall('base', b, c),
      facing('left', new PlaneFace(end.map(([y, z]) => [z, y])), [-x / 2, 0, 0], [0, 0, 1], [0, 1, 0]),
      facing('right', new PlaneFace(end), [x / 2, 0, 0], [0, 1, 0], [0, 0, 1]),
    ];
  },
});

/** A polygon drawn out along z. */
export interface Extruded {
  readonly kind: 'extruded';
  /** Corners [x, y]; the last is joined to the first. */
  readonly points: readonly Corner[];
  readonly length: number;
}

export const extruded = defineBody<Extruded>({
  kind: 'extruded',
  title: 'Extruded profile',
  meaning:
    'A closed profile of straight pieces in x and y, drawn out along z from 0 on. Faces: front, back, wall_1 … in the order of its pieces.',
  first: {
    kind: 'extruded',
    points: [
      [-10, -5],
      [10, -5],
      [10, 0],
      [0, 8],
    ],
    length: 20,
  },
  sketch: 'M3 12v-5l5 -4h4l5 4v5z',
  points: { points: ['x', 'y'] },
  solid: true,
  parameters: [length('length', 'Length', 'Along z, from z = 0 on.')],
  objection: ({ points }) =>
    points.length < 3
      ? 'a profile needs three corners'
      : polygonArea(points) === 0
        ? 'the profile encloses nothing'
        : null,
  build: ({ points, length: z }) => drawnOut(points, z, (wall) => `wall_${wall}`),
});

/** A rectangle without thickness. */
export interface Sheet {
  readonly kind: 'sheet';
  readonly width: number;
  readonly height: number;
}

export const sheet = defineBody<Sheet>({
  kind: 'sheet',
  title: 'Sheet',
  meaning: 'A flat rectangle without thickness at z = 0, such as a screen. Face: face, seen from both sides.',
  first: { kind: 'sheet', width: 40, height: 40 },
  sketch: 'M9.2 1h1.6v12h-1.6z',
  solid: false,
  parameters: [WIDTH, HEIGHT],
  build: ({ width, height }) => [upright('face', new PlaneFace(rectangle(width, height)))],
});

/** A disc or ring without thickness. */
export interface Disc {
  readonly kind: 'disc';
  readonly radius: number;
  readonly inner?: number;
}

export const disc = defineBody<Disc>({
  kind: 'disc',
  title: 'Disc or ring',
  meaning: 'A flat disc without thickness at z = 0, with or without a hole. Face: face, seen from both sides.',
  first: { kind: 'disc', radius: 15 },
  sketch: 'M9.2 2h1.6v10h-1.6z',
  solid: false,
  parameters: [
    length('radius', 'Radius', 'Outer one.'),
    {
      id: 'inner',
      title: 'Hole radius',
      meaning: 'Of the hole in its middle; 0 for none.',
      unit: 'mm',
      kind: 'length',
      min: 0,
      fallback: 0,
      transform: 'value',
    },
  ],
  objection: ({ radius, inner = 0 }) => (inner < radius ? null : 'the hole is larger than the disc'),
  build: ({ radius, inner = 0 }) => [upright('face', discFace(0, inner, radius, 1))],
});
