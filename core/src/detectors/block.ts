import { millimetres, whole } from '../math/length-specs.ts';
import { around } from './cells.ts';
import { ACROSS } from './flat.ts';
import { definePlace, sides, type Piece } from './place.ts';

/** What is absorbed inside of bodies, in a block of cells about the origin, `layers` of them along z. */
export interface BlockPlace {
  readonly kind: 'block';
  readonly width: number;
  readonly height: number;
  readonly depth: number;
  readonly layers: number;
}

export const block = definePlace<BlockPlace>({
  kind: 'block',
  title: 'block of cells in bodies',
  meaning: 'What is absorbed inside of bodies, in a block of cells about the origin.',
  first: { kind: 'block', width: 20, height: 20, depth: 20, layers: 10 },
  parameters: [
    ...ACROSS,
    millimetres('depth', 'Depth', 'Along z.'),
    whole('layers', 'Layers', 'Cells along z.', 1, 200),
  ],
  layers: ({ layers }) => layers,
  map({ width, height, depth, layers }, columns, rows) {
    const cells = columns * rows * layers;
    return {
      chart: { kind: 'volume' },
      range: around(width / 2, height / 2),
      size: new Float64Array(cells).fill((width * height * depth) / cells),
      block: { size: [width, height, depth], cells: [columns, rows, layers] },
    };
  },
  outline({ width, height, depth }) {
    const [x, y, z] = [width / 2, height / 2, depth / 2];
    const frame = (at: number) => sides([-x, x], [-y, y], at);
    const edge = (a: number, b: number): Piece => [a, b, -z, a, b, z];
    return [...frame(-z), ...frame(z), edge(-x, -y), edge(-x, y), edge(x, -y), edge(x, y)];
  },
});
