import type { FieldPoint, Project } from '../project/model.ts';
import { inState } from '../project/states.ts';
import type { Watched } from './one-by-one.ts';

/** A number that departures change smoothly: a measure, or the square of one that is the root of a mean. */
export interface Component {
  readonly request: Watched;
  readonly squared: boolean;
}

/** How a watched measure is made of components. */
export interface Composition {
  /** Id of the watched measure. */
  readonly id: string;
  /** Numbers of its components in the list of all. */
  readonly of: readonly number[];
  /** `itself`: the one component. `worst`: the largest root. Numbers: the root of the weighted mean. */
  readonly by: 'itself' | 'worst' | readonly number[];
}

/** Watched measures as they are made of components. */
export interface Components {
  readonly components: readonly Component[];
  /** By watched measure. */
  readonly compositions: readonly Composition[];
}

const SPOTS: readonly string[] = ['rms_spot_radius', 'rms_spot_angle'];

/**
 * The components of watched measures. The largest spot of several has an edge where another field takes over, and the square of one is nearly
 * quadratic in departures where the spot itself is not.
 */
export function componentsOf(project: Project, watched: readonly Watched[]): Components {
  const components: Component[] = [];
  const compositions = watched.map((request): Composition => {
    const add = (one: Component) => components.push(one) - 1;
    if (!SPOTS.includes(request.measure))
      return { id: request.id, of: [add({ request, squared: false })], by: 'itself' };
    const settings = request.settings as Readonly<Record<string, unknown>>;
    const field = settings.field ?? 'all';
    const spotOf = (id: unknown) =>
      add({
        request: { ...request, id: `${request.id} ${String(id)}`, settings: { ...settings, field: id } },
        squared: true,
      });
    if (field !== 'all' && field !== 'worst') return { id: request.id, of: [spotOf(field)], by: 'worst' };
    const fields = weighted(project, request);
    return {
      id: request.id,
      of: fields.map(({ id }) => spotOf(id)),
      by: field === 'worst' ? 'worst' : fields.map(({ weight }) => weight),
    };
  });
  return { components, compositions };
}

function weighted(project: Project, { lens, state = 'designed' }: Watched): readonly FieldPoint[] {
  const there = state === 'designed' ? null : inState(project, state);
  const { lenses } = there?.ok ? there.value : project;
  return lenses.find(({ id }) => id === lens)?.fields.points.filter(({ weight }) => weight > 0) ?? [];
}

/** The value of a watched measure, of those of all components; squares that came out below 0 count as 0. */
export function composed({ of, by }: Pick<Composition, 'of' | 'by'>, values: ArrayLike<number>): number {
  if (by === 'itself') return values[of[0]];
  if (by === 'worst') {
    let largest = 0;
    for (let k = 0; k < of.length; k++) largest = Math.max(largest, values[of[k]]);
    return Math.sqrt(largest);
  }
  let [sum, all] = [0, 0];
  for (let k = 0; k < of.length; k++) {
    sum += by[k] * values[of[k]];
    all += by[k];
  }
  return Math.sqrt(Math.max(0, sum / all));
}
