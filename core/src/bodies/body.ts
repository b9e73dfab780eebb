import type { Kind } from '../math/kinds.ts';
import type { ParameterSpec } from '../math/parameter.ts';
import { AT_REST, shifted, type Rigid, type Triple } from '../math/rigid.ts';
import type { FaceForm } from './face-form.ts';

/** One face of a body as it is built. */
export interface BuiltFace {
  /** Its stable name within the body, an id. */
  readonly name: string;
  /** From the coordinates of the face to those of the body. */
  readonly pose: Rigid;
  readonly form: FaceForm;
}

/** Everything the rest of Ulvex knows about one kind of body. */
export interface BodyDefinition<R extends { readonly kind: string }> extends Kind<R> {
  /** As it is added first: of a size that shows beside a small lens. */
  readonly first: R;
  /** Id of the basic finish that it is added with; clear glass if it is solid and says nothing, else black. */
  readonly finish?: string;
  /** Its outline seen from the side, light from the left: an SVG path in a box of 20 × 14. */
  readonly sketch: string;
  /** Whether it encloses a volume; what does not is a sheet without inside. */
  readonly solid: boolean;
  /** What numbers make no such body, in a sentence; null when they do. */
  objection?(record: R): string | null;
  build(record: R): readonly BuiltFace[];
}

/** Types a definition by its record without naming the type twice. */
export function defineBody<R extends { readonly kind: string }>(definition: BodyDefinition<R>): BodyDefinition<R> {
  return definition;
}

/** A face about the z axis of its body. */
export function upright(name: string, form: FaceForm): BuiltFace {
  return { name, pose: AT_REST, form };
}

/** A flat face through a point, with its own x and y along two directions of the body, square to each other; z points outside. */
export function facing(name: string, form: FaceForm, at: Triple, x: Triple, y: Triple): BuiltFace {
  const z: Triple = [x[1] * y[2] - x[2] * y[1], x[2] * y[0] - x[0] * y[2], x[0] * y[1] - x[1] * y[0]];
  const rotation = Float64Array.of(x[0], y[0], z[0], x[1], y[1], z[1], x[2], y[2], z[2]);
  return { name, pose: { shift: at, rotation }, form };
}

/** A face that keeps the directions of its body, shifted along z. */
export function lifted(name: string, form: FaceForm, z: number): BuiltFace {
  return { name, pose: shifted(0, 0, z), form };
}

/** A length in mm of a body, above 0. */
export function length(id: string, title: string, meaning: string, more: Partial<ParameterSpec> = {}): ParameterSpec {
  return { id, title, meaning, unit: 'mm', kind: 'length', above: 0, transform: 'value', ...more };
}
