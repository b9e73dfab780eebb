import { MOST_MEETINGS } from '../../bodies/face-form.ts';
import { inverse, type Rigid } from '../../math/rigid.ts';
import type { SceneFace, SceneModel } from '../../scene/scene-model.ts';

/** What is seen of a body where it is cut open. */
export interface SectionFill {
  readonly part: string;
  /** Whether light goes through its matter. */
  readonly clear: boolean;
  /** Triangles in the plane x = 0: x, y, z of each corner, mm. */
  readonly positions: Float32Array;
}

/** Lines along z that a body is cut with, from its lowest to its highest. */
const LINES = 128;
/** Halvings of the step in which a line comes to meet more or fewer pieces. */
const HALVINGS = 10;

/** From where to where a line lies in matter: z of entry and exit, one pair after another. */
type Spans = readonly number[];

/** The matter that the plane x = 0 cuts, body by body: what stands open when the half toward −x is taken away. */
export function sectionFill({ faces, solids }: Pick<SceneModel, 'faces' | 'solids'>): SectionFill[] {
  return solids.flatMap(({ part, material }, index) => {
    const own = faces.filter(({ inner, outer }) => inner === index || outer === index);
    const positions = own.length > 0 ? cut(own) : [];
    if (positions.length === 0) return [];
    return [{ part, clear: material !== undefined, positions: Float32Array.from(positions) }];
  });
}

function cut(faces: readonly SceneFace[]): number[] {
  const low = [0, 1, 2].map((axis) => Math.min(...faces.map(({ box }) => box.min[axis])));
  const high = [0, 1, 2].map((axis) => Math.max(...faces.map(({ box }) => box.max[axis])));
  if (low[0] > 0 || high[0] < 0) return [];
  const line = spansOf(faces, low[2] - 1);
  const positions: number[] = [];
  // A little inside: a line in a flat top runs along its edge.
  const [from, to] = [low[1] + 1e-6 * (high[1] - low[1]), high[1] - 1e-6 * (high[1] - low[1])];
  let [y, spans] = [from, line(from)];
  for (let k = 1; k <= LINES; k++) {
    const next = from + ((to - from) * k) / LINES;
    const there = line(next);
    if (there.length === spans.length) strip(positions, y, spans, next, there);
    else {
      let [before, after] = [
        { y, spans },
        { y: next, spans: there },
      ];
      for (let halving = 0; halving < HALVINGS; halving++) {
        const middle = (before.y + after.y) / 2;
        const at = line(middle);
        if (at.length === spans.length) before = { y: middle, spans: at };
        else after = { y: middle, spans: at };
      }
      strip(positions, y, spans, before.y, before.spans);
      if (after.spans.length === there.length) strip(positions, after.y, after.spans, next, there);
    }
    [y, spans] = [next, there];
  }
  return positions;
}

/** Fills between two lines that meet equally many pieces. */
function strip(positions: number[], y0: number, a: Spans, y1: number, b: Spans): void {
  if (y1 <= y0) return;
  for (let k = 0; k + 1 < a.length; k += 2)
    positions.push(0, y0, a[k], 0, y0, a[k + 1], 0, y1, b[k], 0, y1, b[k], 0, y0, a[k + 1], 0, y1, b[k + 1]);
}

/** Where lines along z in the plane x = 0 lie in what the faces bound. */
function spansOf(faces: readonly SceneFace[], start: number): (y: number) => Spans {
  const out = new Float64Array(MOST_MEETINGS);
  const placed = faces.map(({ form, pose, box }): [SceneFace['form'], Rigid, SceneFace['box']] => [
    form,
    inverse(pose),
    box,
  ]);
  return (y) => {
    const met: number[] = [];
    for (const [form, { shift: s, rotation: r }, box] of placed) {
      if (y < box.min[1] || y > box.max[1] || box.min[0] > 0 || box.max[0] < 0) continue;
      const [px, py, pz] = [0, 3, 6].map((row, axis) => s[axis] + r[row + 1] * y + r[row + 2] * start);
      const count = form.meet(px, py, pz, r[2], r[5], r[8], out);
      for (let k = 0; k < count; k++) met.push(start + out[k]);
    }
    met.sort((a, b) => a - b);
    return met.length % 2 === 0 ? met : met.slice(0, -1);
  };
}
