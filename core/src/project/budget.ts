import type { Lens } from './model.ts';
import { PLACE_KINDS, type DetectorPlace } from '../detectors/registry.ts';
import type { Pattern } from './scene.ts';

/**
 * What is computed at most: far above any real design, far below what would take a machine's memory or minutes of its
 * time. What is above is said in place, with what would do, and the rest goes on.
 */
export const BUDGET = {
  /** Surfaces × fields × wavelengths of one lens. */
  lens: 400_000,
  /** Cells of all detectors of a scene together, in each channel; each takes some 40 bytes. */
  cells: 20_000_000,
  /** Bodies of a scene, each copy of a pattern counted. */
  places: 50_000,
} as const;

const words = (value: number) => value.toLocaleString('en');

/** Why a lens is too much to be traced as a whole; null for one that is not. */
export function lensTooLarge({ surfaces, fields, wavelengths }: Lens): string | null {
  const [s, f, w] = [surfaces.length, fields.points.length, wavelengths.length];
  const cost = s * f * w;
  if (cost <= BUDGET.lens) return null;
  const largest = f >= w ? 'fields' : 'wavelengths';
  return (
    `${words(s)} surfaces × ${words(f)} fields × ${words(w)} wavelengths are ${words(cost)} to be traced; ` +
    `${words(BUDGET.lens)} are the most. Delete ${largest}: ${words(Math.floor(BUDGET.lens / (s * Math.min(f, w))))} ` +
    'of them would do.'
  );
}

/** Cells of a detector. */
export function cellsOf({
  on,
  columns,
  rows,
}: {
  readonly on: DetectorPlace;
  readonly columns: number;
  readonly rows: number;
}): number {
  return columns * rows * (on.kind === 'face' ? 1 : (PLACE_KINDS.of(on.kind).layers?.(on) ?? 1));
}

/** Copies that a pattern makes. */
export function copiesOf(pattern: Pattern | undefined): number {
  if (!pattern) return 1;
  return pattern.kind === 'ring' ? pattern.count : pattern.columns * pattern.rows;
}

/** The finding about something of a scene that would be too many together with what is there already. */
export function overBudget(what: 'cells' | 'places', own: number, before: number, channels = 1): string {
  const [noun, limit] = what === 'cells' ? ['cells', BUDGET.cells] : ['bodies', BUDGET.places];
  const together = before > 0 ? `, with ${words(before)} before it,` : '';
  const apart = channels > 1 ? ` in ${words(channels)} channels (a source at a wavelength each)` : '';
  return `Its ${words(own)} ${noun}${apart}${together} are more than the ${words(limit)} that a scene may have: it is excluded. Give it fewer.`;
}
