import { PlaneFace } from '../bodies/plane-face.ts';
import { discFace } from '../bodies/quadric-face.ts';
import { millimetres } from '../math/length-specs.ts';
import { around, flatMap } from './cells.ts';
import { definePlace, ring, sides } from './place.ts';

export const ACROSS = [millimetres('width', 'Width', 'Along x.'), millimetres('height', 'Height', 'Along y.')];

/** A rectangle that light passes unhindered. */
export interface RectanglePlace {
  readonly kind: 'rectangle';
  readonly width: number;
  readonly height: number;
}

export const rectangle = definePlace<RectanglePlace>({
  kind: 'rectangle',
  title: 'free rectangle',
  meaning: 'A rectangle that light passes unhindered.',
  first: { kind: 'rectangle', width: 20, height: 20 },
  parameters: ACROSS,
  map: ({ width, height }, columns, rows) => flatMap(around(width / 2, height / 2), columns, rows),
  face({ width, height }) {
    const [x, y] = [width / 2, height / 2];
    return new PlaneFace([
      [-x, -y],
      [x, -y],
      [x, y],
      [-x, y],
    ]);
  },
  outline: ({ width, height }) => sides([-width / 2, width / 2], [-height / 2, height / 2], 0),
});

/** A disc that light passes unhindered. */
export interface DiscPlace {
  readonly kind: 'disc';
  readonly radius: number;
}

/** Lines that a cell on the edge of a disc is measured with. */
const LINES = 64;

/** What of each cell of the square about a disc lies on the disc. */
function discCells(radius: number, columns: number, rows: number): Float64Array {
  const [dx, dy] = [(2 * radius) / columns, (2 * radius) / rows];
  return Float64Array.from({ length: columns * rows }, (_, cell) => {
    const left = -radius + (cell % columns) * dx;
    const low = -radius + Math.floor(cell / columns) * dy;
    let area = 0;
    for (let line = 0; line < LINES; line++) {
      const y = low + ((line + 0.5) / LINES) * dy;
      const half = Math.sqrt(Math.max(0, radius * radius - y * y));
      area += Math.max(0, Math.min(left + dx, half) - Math.max(left, -half));
    }
    return (area / LINES) * dy;
  });
}

export const disc = definePlace<DiscPlace>({
  kind: 'disc',
  title: 'free disc',
  meaning: 'A disc that light passes unhindered.',
  first: { kind: 'disc', radius: 10 },
  parameters: [millimetres('radius', 'Radius', 'Of the disc.')],
  map: ({ radius }, columns, rows) => ({
    chart: { kind: 'flat' },
    range: around(radius, radius),
    size: discCells(radius, columns, rows),
  }),
  face: ({ radius }) => discFace(0, 0, radius, 1),
  outline: ({ radius }) => ring(radius, (a, b) => [a, b, 0]),
});
