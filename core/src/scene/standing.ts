import { compose, rigidOf, type Rigid, AT_REST } from '../math/rigid.ts';
import { compileShape } from '../shapes/registry.ts';
import type { CompiledShape } from '../shapes/shape.ts';
import { BUDGET, copiesOf, overBudget } from '../project/budget.ts';
import type { Part, Pattern, Placed, Scene } from '../project/scene.ts';
import type { Finding } from '../sequence/lens-model.ts';

/** Where each thing of a scene stands, by its id: one pose, or several for a pattern. What is left out has none. */
export type Standing = ReadonlyMap<string, readonly Rigid[]>;

const MIRRORS: Readonly<Record<'x' | 'y' | 'z', Rigid>> = {
  x: { shift: [0, 0, 0], rotation: Float64Array.of(-1, 0, 0, 0, 1, 0, 0, 0, 1) },
  y: { shift: [0, 0, 0], rotation: Float64Array.of(1, 0, 0, 0, -1, 0, 0, 0, 1) },
  z: { shift: [0, 0, 0], rotation: Float64Array.of(1, 0, 0, 0, 1, 0, 0, 0, -1) },
};

/**
 * Poses of everything in a scene, in its coordinates: a frame within that of another part, p = (dx, dy, dz) + Rx·Ry·Rz·p_local at each
 * step; then the mirror of a copy, then its pattern.
 */
export function placeAll(scene: Scene, findings: Finding[]): Standing {
  const parts = new Map(scene.parts.map((part) => [part.id, part]));
  const known = new Map<string, Rigid | null>();
  const frameOf = (thing: Placed & { readonly id: string }, chain: readonly string[]): Rigid | null => {
    const own = rigidOf(thing.frame ?? {});
    if (thing.within === undefined) return own;
    if (chain.includes(thing.within)) {
      findings.push({
        severity: 'error',
        where: thing.id,
        text: `Its frame lies within itself: ${[...chain, thing.within].join(' in ')}.`,
      });
      return null;
    }
    const around = parts.get(thing.within);
    if (!around) {
      findings.push({
        severity: 'error',
        where: thing.id,
        text: `There is no part “${thing.within}” to stand in.`,
      });
      return own;
    }
    const outer = partFrame(around, [...chain, around.id]);
    return outer && compose(outer, own);
  };
  const partFrame = (part: Part, chain: readonly string[]): Rigid | null => {
    let frame = known.get(part.id);
    if (frame === undefined) known.set(part.id, (frame = frameOf(part, chain)));
    return frame;
  };
  const left = (thing: Placed): boolean => {
    for (let at: Placed | undefined = thing, steps = 0; at && steps < 1000; steps++) {
      if (at.excluded) return true;
      at = at.within === undefined ? undefined : parts.get(at.within);
    }
    return false;
  };
  const standing = new Map<string, readonly Rigid[]>();
  let count = 0;
  for (const part of scene.parts) {
    const frame = partFrame(part, [part.id]);
    if (!frame || left(part)) continue;
    const copies = copiesOf(part.pattern);
    if (count + copies > BUDGET.places) {
      findings.push({ severity: 'error', where: part.id, text: overBudget('places', copies, count) });
      continue;
    }
    count += copies;
    const mirrored = part.body.kind === 'copy' && part.body.mirrored ? MIRRORS[part.body.mirrored] : AT_REST;
    standing.set(
      part.id,
      repeated(part.pattern, part.id, findings).map((step) => compose(compose(frame, step), mirrored)),
    );
  }
  for (const thing of [...scene.sources, ...scene.detectors]) {
    const frame = frameOf(thing, [thing.id]);
    if (frame && !left(thing)) standing.set(`:${thing.id}`, [frame]);
  }
  return standing;
}

function repeated(pattern: Pattern | undefined, where: string, findings: Finding[]): readonly Rigid[] {
  if (!pattern) return [AT_REST];
  if (pattern.kind === 'ring')
    return Array.from({ length: pattern.count }, (_, i) => {
      const turn = (360 * i) / pattern.count;
      const angle = (turn * Math.PI) / 180;
      return rigidOf({
        dx: pattern.radius * Math.cos(angle),
        dy: pattern.radius * Math.sin(angle),
        tz: turn,
      });
    });
  const { columns, rows, dx, dy } = pattern;
  if (pattern.kind === 'facets') {
    const base = compileShape({ kind: 'conic', radius: pattern.radius, conic: pattern.conic ?? 0 });
    const places = Array.from({ length: columns * rows }, (_, i) =>
      onBase(base, ((i % columns) - (columns - 1) / 2) * dx, (Math.floor(i / columns) - (rows - 1) / 2) * dy),
    );
    const standing = places.filter((place) => place !== null);
    if (standing.length < places.length)
      findings.push({
        severity: 'warning',
        where,
        text:
          `${places.length - standing.length} of its ${places.length} facets lie beyond the end of the surface ` +
          'that they stand on, and are ignored.',
      });
    return standing;
  }
  return Array.from({ length: columns * rows }, (_, i) =>
    rigidOf({
      dx: ((i % columns) - (columns - 1) / 2) * dx,
      dy: (Math.floor(i / columns) - (rows - 1) / 2) * dy,
    }),
  );
}

/** On a surface at (x, y), turned from z to its normal by the shortest way; null beyond its reach. */
function onBase(base: CompiledShape, x: number, y: number): Rigid | null {
  if (!(Math.hypot(x, y) < base.reach)) return null;
  const jet = new Float64Array(6);
  base.derivatives.jet(x, y, jet);
  const scale = 1 / Math.hypot(jet[1], jet[2], 1);
  const [a, b, c] = [-jet[1] * scale, -jet[2] * scale, scale];
  // Rodrigues' formula for the turn about z × n by the angle between them.
  const k = 1 / (1 + c);
  const rotation = Float64Array.of(1 - a * a * k, -a * b * k, a, -a * b * k, 1 - b * b * k, b, -a, -b, c);
  return { shift: [x, y, jet[0]], rotation };
}

/** Where a source or a detector stands; null when it is excluded. */
export function standingOf(standing: Standing, id: string): Rigid | null {
  return standing.get(`:${id}`)?.[0] ?? null;
}
