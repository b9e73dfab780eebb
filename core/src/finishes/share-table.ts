import { coatedPlace, cubic } from '../physics/tables.ts';
import type { CompiledFinish } from './finish.ts';
import type { FaceShares } from './fresnel.ts';

/** Shares of unpolarised light at a coated face between two media, over `coatedPlace`. */
export interface ShareTable {
  /** Shares reflected and let through, alternately, at equal steps; of light that finds a way on. */
  readonly list: Float64Array;
  /** The same where the medium behind knows no such angle. */
  readonly total: Float64Array;
}

/** Largest error of a share in the middle of a step. */
const WITHIN = 2e-8;
const FEWEST = 16;
const MOST = 4096;

const known = new WeakMap<object, Map<string, ShareTable | null>>();

/**
 * Tabulates the shares of a coated face to within some 2e-8, checked in the middle of each step. Kept for as long as the finish is.
 *
 * @returns null where they change too quickly for a table: a very thick film, or media of almost the same index
 */
export function shareTable(finish: CompiledFinish, n1: number, n2: number, outward: boolean): ShareTable | null {
  let tables = known.get(finish.record);
  if (!tables) known.set(finish.record, (tables = new Map()));
  const films = finish.plain?.kind === 'films' ? finish.plain.key : '';
  const key = `${finish.nm} ${n1} ${n2} ${outward} ${films}`;
  const found = tables.get(key);
  if (found !== undefined) return found;
  const made = tabulate(finish, n1, n2, outward);
  tables.set(key, made);
  return made;
}

function tabulate({ shares }: CompiledFinish, n1: number, n2: number, outward: boolean): ShareTable | null {
  const out: FaceShares = { rs: 0, rp: 0, ts: 0, tp: 0 };
  const ratio = n2 / n1;
  const inner = (place: number) => (ratio < 1 ? Math.sqrt(1 - ratio * ratio * (1 - place * place)) : place);
  const at = (cosine: number) => {
    shares(n1, n2, cosine, outward, out);
    return [(out.rs + out.rp) / 2, (out.ts + out.tp) / 2] as const;
  };
  const list = sampled((place) => at(Math.max(1e-9, inner(place))));
  if (!list) return null;
  if (!(ratio < 1)) return { list, total: new Float64Array(0) };
  const critical = Math.sqrt(1 - ratio * ratio);
  const total = sampled((place) => {
    const [reflected] = at(Math.max(1e-9, critical * Math.cos((place * Math.PI) / 2)));
    return [reflected, 0];
  });
  return total && { list, total };
}

type Shares = readonly [reflected: number, through: number];

/** Nearer to 0 than this, the cosine behind the face has lost its digits: shares are continued from farther on. */
const BLIND = 1e-4;

/** Values of a function from 0 to 1 in as many steps as it takes; null where that is too many. */
function sampled(exact: (place: number) => Shares): Float64Array | null {
  const of = (place: number): Shares => {
    if (place >= BLIND) return exact(place);
    const [a, b, c] = [1, 2, 3].map((k) => exact(k * BLIND));
    const along = (i: 0 | 1) => cubic(3 * a[i] - 3 * b[i] + c[i], a[i], b[i], c[i], place / BLIND);
    return [along(0), along(1)];
  };
  let list = new Float64Array(2 * FEWEST + 2);
  for (let i = 0; i <= FEWEST; i++) list.set(of(i / FEWEST), 2 * i);
  for (let steps = FEWEST; steps <= MOST; steps *= 2) {
    // The middles of the steps are what it is checked by, and the places that half the step adds.
    const finer = new Float64Array(4 * steps + 2);
    let within = true;
    for (let i = 0; i <= steps; i++) {
      finer.set(list.subarray(2 * i, 2 * i + 2), 4 * i);
      if (i === steps) break;
      const place = (i + 0.5) / steps;
      const [reflected, through] = of(place);
      finer.set([reflected, through], 4 * i + 2);
      within &&=
        Math.abs(readShare(list, place, 0) - reflected) < WITHIN &&
        Math.abs(readShare(list, place, 1) - through) < WITHIN;
    }
    if (within) return list;
    list = finer;
  }
  return null;
}

/** A share of a list: 0 for the one reflected, 1 for the one let through. */
function readShare(list: Float64Array, place: number, which: 0 | 1): number {
  const steps = list.length / 2 - 1;
  const i = Math.min(steps - 3, Math.max(0, Math.floor(place * steps) - 1));
  const k = 2 * i + which;
  return cubic(list[k], list[k + 2], list[k + 4], list[k + 6], place * steps - i);
}

/** Shares reflected and let through at an incidence, as the compiled tracer reads them. */
export function tableShares(
  { list, total }: ShareTable,
  n1: number,
  n2: number,
  cosine: number,
): { readonly reflected: number; readonly through: number } {
  const place = coatedPlace(n1, n2, cosine);
  if (place < -0.5) return { reflected: readShare(total, -1 - place, 0), through: 0 };
  return { reflected: readShare(list, place, 0), through: readShare(list, place, 1) };
}
