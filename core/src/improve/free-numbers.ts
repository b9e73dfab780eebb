import { failure, success, type Outcome } from '../math/outcome.ts';
import { objection, type ParameterSpec } from '../math/parameter.ts';
import { applyEdits, valueAt, type Edit } from '../project/edit.ts';
import type { Project } from '../project/model.ts';
import { findParameter, setParameter, type Parameter } from '../project/parameters.ts';

/** A number that a run may change, as solvers see it: a curvature for a radius. */
export interface FreeNumber {
  readonly address: string;
  readonly spec: ParameterSpec;
  /** As solvers see it: at the start, and its bounds. */
  readonly start: number;
  readonly lower: number;
  readonly upper: number;
  /** A step that is small for it, for differences. */
  readonly small: number;
  /** A step that is large for it: about as far as a search by values alone first looks. */
  readonly spread: number;
}

const seen = (spec: ParameterSpec, value: number) => (spec.transform === 'reciprocal' ? 1 / value : value);
/** The value in its own unit of what solvers see. */
export const unseen = (spec: ParameterSpec, value: number) => (spec.transform === 'reciprocal' ? 1 / value : value);

/** All numbers of a project that are free, with their bounds; those of parameters that are gone are left out. */
export function freeNumbers(project: Project): FreeNumber[] {
  return Object.entries(project.parameters ?? {}).flatMap(([address, state]) => {
    if (state.kind !== 'free') return [];
    const parameter = findParameter(project, address);
    if (!parameter.ok) return [];
    const { spec, value } = parameter.value;
    const [lower, upper] = seenBounds(spec, state.min, state.max);
    const small = spec.transform === 'reciprocal' ? 1e-7 : 1e-6 * Math.max(1, Math.abs(value));
    const start = seen(spec, value);
    return [{ address, spec, start, lower, upper, small, spread: spreadOf(spec, start, upper - lower) }];
  });
}

/** A quarter of the way between bounds, or what is large for a number of its kind. */
function spreadOf({ kind, transform }: ParameterSpec, start: number, room: number): number {
  if (Number.isFinite(room)) return room / 4;
  if (transform === 'reciprocal') return Math.max(1e-3, 0.2 * Math.abs(start));
  if (kind === 'angle') return 2;
  return kind === 'length' ? Math.max(1, 0.1 * Math.abs(start)) : Math.max(0.1, 0.2 * Math.abs(start));
}

/** Bounds as solvers see them: of a radius that must not change its sign, those of its curvature, the other way round. */
function seenBounds(spec: ParameterSpec, min = -Infinity, max = Infinity): [number, number] {
  const least = Math.max(min, spec.min ?? -Infinity, spec.above ?? -Infinity);
  const most = Math.min(max, spec.most ?? Infinity, spec.below ?? Infinity);
  if (spec.transform !== 'reciprocal') return [least, most];
  if (least > 0) return [most === Infinity ? 0 : 1 / most, 1 / least];
  if (most < 0) return [1 / most, least === -Infinity ? 0 : 1 / least];
  return [-Infinity, Infinity];
}

/** Writes values of free numbers into a project. Fails where one of them is not legal. */
export class NumberWriter {
  readonly #parameters: readonly Parameter[];
  readonly #numbers: readonly FreeNumber[];

  constructor(project: Project, numbers: readonly FreeNumber[]) {
    this.#numbers = numbers;
    this.#parameters = numbers.map(({ address }) => {
      const found = findParameter(project, address);
      if (!found.ok) throw new Error(found.reason);
      return found.value;
    });
  }

  /** The edits that make the numbers what solvers say; none for those that stay as they are. */
  edits(project: Project, x: ArrayLike<number>): Outcome<Edit[]> {
    const edits: Edit[] = [];
    for (const [k, parameter] of this.#parameters.entries()) {
      const { spec } = this.#numbers[k];
      const value = unseen(spec, x[k]);
      const wrong = objection(spec, value);
      if (wrong) return failure(`${parameter.address}: ${wrong}`);
      if (value === parameter.value && valueAt(project, parameter.path) !== undefined) continue;
      const { absent } = parameter;
      // A frame that is not there yet comes with the first of its numbers.
      const there =
        absent === undefined ||
        valueAt(project, absent) !== undefined ||
        edits.some((edit) => edit.kind === 'set' && edit.path === absent);
      const { absent: _absent, ...present } = parameter;
      const edit = setParameter(there ? present : parameter, value);
      if (!edit.ok) return edit;
      edits.push(edit.value);
    }
    return success(edits);
  }

  /** The project with the numbers that solvers say. */
  write(project: Project, x: ArrayLike<number>): Outcome<Project> {
    const edits = this.edits(project, x);
    return edits.ok ? success(applyEdits(project, edits.value).project) : edits;
  }
}
