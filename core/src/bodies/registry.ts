import { Kinds } from '../math/kinds.ts';
import type { BodyDefinition, BuiltFace } from './body.ts';
import { concentrator, concentratorShell } from './concentrator.ts';
import { box, disc, extruded, plateWithHole, prism, sheet } from './flat.ts';
import { biaxial, lensBlock } from './lens-block.ts';
import { shell } from './mirror-shell.ts';
import { mixingRod } from './mixing-rod.ts';
import { swept } from './swept.ts';
import { cone, cylinder, revolved, sphere, torus, tube } from './round.ts';

/** Every kind of body with faces of its own, in menu order. A new one is a file beside these and a word in this list. */
export const BODIES = [
  box,
  cylinder,
  cone,
  tube,
  sphere,
  torus,
  prism,
  plateWithHole,
  lensBlock,
  biaxial,
  revolved,
  extruded,
  mixingRod,
  swept,
  concentrator,
  sheet,
  disc,
  shell,
  concentratorShell,
] as const;

type RecordOf<D> = D extends BodyDefinition<infer R> ? R : never;

/** A body as the document holds it. */
export type OwnBody = RecordOf<(typeof BODIES)[number]>;

/** Bodies by kind. */
export const BODY_KINDS = new Kinds<BodyDefinition<OwnBody>>('body', BODIES);

/** The definition of a kind, or undefined for a word that is none. */
export const bodyDefinition = (kind: string) => BODY_KINDS.find(kind);

/** The faces of a body. Throws for a kind that is not registered: documents are validated before. */
export function buildBody(body: OwnBody): readonly BuiltFace[] {
  return BODY_KINDS.of(body.kind).build(body);
}
