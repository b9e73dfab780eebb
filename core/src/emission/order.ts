import { inPlane, type CompiledRegion, type Start } from './regions/region.ts';

/** Regular places that rays start from, each as often as the others. */
export type StartOrder =
  /** Columns and rows over the bounding rectangle; of a disc those on it. */
  | { readonly kind: 'grid'; readonly columns: number; readonly rows: number }
  /** Rings of equal area, as many places on each, over a disc or the ellipse in a rectangle. */
  | { readonly kind: 'rings'; readonly rings: number; readonly arms: number };

/** Most places of a regular order. */
const MOST_PLACES = 1_000_000;

/** Starts on regular places of a flat region; null where a region has none (a point, a curved one) or the order leaves none on it. */
export function orderedStart({ flat }: CompiledRegion, order: StartOrder): Start | null {
  if (!flat) return null;
  const [a, b] = flat.half;
  const inner = flat.inner / a;
  const places: number[] = [];
  if (order.kind === 'grid') {
    const { columns, rows } = order;
    if (columns * rows > MOST_PLACES) return null;
    for (let row = 0; row < rows; row++)
      for (let column = 0; column < columns; column++) {
        const [x, y] = [(2 * column + 1) / columns - 1, (2 * row + 1) / rows - 1];
        const r = Math.hypot(x, y);
        if (!flat.round || (r <= 1 && r >= inner)) places.push(a * x, b * y);
      }
  } else {
    const { rings, arms } = order;
    if (rings * arms > MOST_PLACES) return null;
    for (let ring = 0; ring < rings; ring++) {
      const r = Math.sqrt(inner * inner + ((ring + 0.5) / rings) * (1 - inner * inner));
      for (let arm = 0; arm < arms; arm++) {
        const phi = (2 * Math.PI * (arm + 0.5)) / arms;
        places.push(a * r * Math.cos(phi), b * r * Math.sin(phi));
      }
    }
  }
  const count = places.length / 2;
  if (count === 0) return null;
  // One number picks the place, so that a low-discrepancy sequence visits all of them equally often.
  const pick = (u: number) => 2 * Math.min(count - 1, Math.floor(u * count));
  return inPlane(
    (u) => places[pick(u)],
    (u) => places[pick(u) + 1],
  );
}
