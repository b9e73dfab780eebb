import { buildBody, bodyDefinition } from '../bodies/registry.ts';
import type { BuiltFace } from '../bodies/body.ts';
import { combineFaces } from '../bodies/trimmed-face.ts';
import { compose } from '../math/rigid.ts';
import type { Body, Part, Scene } from '../project/scene.ts';
import type { Standing } from './standing.ts';

type CombinedBody = Extract<Body, { kind: 'combined' }>;

/** Ids of the parts that combinations are made of: they are not there for themselves. Those of a circle stay, to be told of. */
export function usedUp(scene: Scene, standing: Standing): ReadonlySet<string> {
  const sides = new Map(
    scene.parts.flatMap(({ id, body }) =>
      body.kind === 'combined' && standing.has(id) ? [[id, [body.first, body.second]] as const] : [],
    ),
  );
  const holds = (id: string, wanted: string, depth = 0): boolean =>
    depth < sides.size + 1 && (sides.get(id) ?? []).some((side) => side === wanted || holds(side, wanted, depth + 1));
  return new Set([...sides.values()].flat().filter((id) => !holds(id, id)));
}

/**
 * Faces of a combination in the coordinates of the scene, named `part_face` (`part_2_face` for the second of a pattern).
 *
 * @returns why there are none, in a sentence, where it cannot be made
 */
export function combinedFaces(
  { operation, first, second }: CombinedBody,
  part: Part,
  byId: ReadonlyMap<string, Part>,
  standing: Standing,
  chain: readonly string[] = [part.id],
): BuiltFace[] | string {
  const sides: BuiltFace[][] = [];
  for (const id of [first, second]) {
    const faces = facesOf(id, byId, standing, chain);
    if (typeof faces === 'string') return faces;
    sides.push(faces);
  }
  return first === second ? 'It needs two different parts.' : combineFaces(operation, sides[0], sides[1]);
}

function facesOf(
  id: string,
  byId: ReadonlyMap<string, Part>,
  standing: Standing,
  chain: readonly string[],
): BuiltFace[] | string {
  if (chain.includes(id)) return `It is made of itself: ${[...chain, id].join(' of ')}.`;
  const part = byId.get(id);
  if (!part) return `There is no part “${id}” to combine.`;
  const places = standing.get(id);
  if (!places) return `“${id}” is excluded: a combination needs both of its parts.`;
  let body: Body = part.body;
  for (const seen = new Set<string>(); body.kind === 'copy';) {
    const of = byId.get(body.of);
    if (!of || seen.has(of.id)) return `“${id}” is a copy of nothing.`;
    seen.add(of.id);
    body = of.body;
  }
  let faces: readonly BuiltFace[];
  if (body.kind === 'combined') {
    const inner = combinedFaces(body, part, byId, standing, [...chain, id]);
    if (typeof inner === 'string') return inner;
    faces = inner;
  } else if (body.kind === 'lens' || body.kind === 'mesh' || body.kind === 'group')
    return `“${id}” is a ${body.kind}: only solids with exact faces can be combined.`;
  else {
    const definition = bodyDefinition(body.kind)!;
    if (!definition.solid) return `“${id}” has no inside: only solids can be combined.`;
    const wrong = definition.objection?.(body) ?? null;
    if (wrong) return `“${id}” is no such body: ${wrong}.`;
    faces = buildBody(body);
  }
  return places.flatMap((place, number) =>
    faces.map(({ name, form, pose }) => ({
      name: `${id}${number > 0 ? `_${number + 1}` : ''}_${name}`,
      form,
      pose: compose(place, pose),
    })),
  );
}
