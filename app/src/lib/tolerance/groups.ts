import { failure, success, type Outcome, type Project, type Tolerance } from '@ulvex/core';
import { readLimits, toleranceTitle, toleranceUnit, type ToleranceChange } from '@ulvex/core/tolerance';
import { plain } from '../format.ts';

/** Kinds of work that a workshop tells apart, in the order of the list. */
const KINDS = [
  { id: 'form', title: 'Form' },
  { id: 'figure', title: 'Figure' },
  { id: 'homogeneity', title: 'Homogeneity' },
  { id: 'thickness', title: 'Distances' },
  { id: 'wedge', title: 'Wedge' },
  { id: 'shift', title: 'Shift in cell' },
  { id: 'tilt', title: 'Tilt in cell' },
  { id: 'group', title: 'Groups' },
  { id: 'index', title: 'Index' },
  { id: 'abbe', title: 'Abbe number' },
  { id: 'place', title: 'Place in space' },
  { id: 'turn', title: 'Tilt in space' },
  { id: 'flux', title: 'Flux' },
  { id: 'other', title: 'Other' },
] as const;
type Kind = (typeof KINDS)[number]['id'];

/** A tolerance as the list shows it. */
export interface ToleranceRow {
  readonly tolerance: Tolerance;
  readonly title: string;
  /** Its title without what the title of its group says. */
  readonly short: string;
  readonly unit: string;
}

/** Tolerances of one kind. */
export interface ToleranceGroup {
  readonly id: Kind;
  readonly title: string;
  readonly rows: readonly ToleranceRow[];
  /** The unit that all of them have; null for several. */
  readonly unit: string | null;
}

function kindOf(tolerance: Tolerance): Kind {
  switch (tolerance.kind) {
    case 'fringes':
      return 'form';
    case 'wedge':
      return 'wedge';
    case 'figure':
    case 'homogeneity':
      return tolerance.kind;
    case 'melt':
      return tolerance.quantity;
    case 'element':
      if (tolerance.to !== undefined) return 'group';
      return tolerance.motion.startsWith('tilt') ? 'tilt' : 'shift';
    default: {
      const word = tolerance.address.split('.').at(-1)!;
      if (tolerance.address.startsWith('scenes.')) {
        if (/^d[xyz]$/.test(word)) return 'place';
        if (/^t[xyz]$/.test(word)) return 'turn';
        return word === 'flux' ? 'flux' : 'other';
      }
      if (word === 'thickness') return 'thickness';
      if (word === 'tx' || word === 'ty') return 'wedge';
      return /^(radius|conic|a\d+)$/.test(word) ? 'form' : 'other';
    }
  }
}

/** Words of titles that the title of a group says already. */
const SAID = / (radius|thickness|wedge|shift|tilt|index|Abbe number|flux|homogeneity,)(?= |$)/;

/** The tolerances of a project by kind; kinds without any are left out. */
export function toleranceGroups(project: Project, tolerances: readonly Tolerance[]): ToleranceGroup[] {
  return KINDS.flatMap(({ id, title }) => {
    const rows = tolerances
      .filter((one) => kindOf(one) === id)
      .map((tolerance) => {
        const unit = toleranceUnit(project, tolerance);
        const whole = toleranceTitle(project, tolerance);
        const short = tolerance.name || id === 'group' ? whole : whole.replace(SAID, '');
        return { tolerance, title: whole, short, unit: unit.ok ? unit.value : '' };
      });
    if (rows.length === 0) return [];
    const units = new Set(rows.map(({ unit }) => unit));
    return [{ id, title, rows, unit: units.size === 1 ? rows[0].unit : null }];
  });
}

const signed = (value: number) => (value > 0 ? `+${plain(value, 4)}` : plain(value, 4).replace('-', '−'));

/** Limits as a cell shows them: `±0.05`, or both where they differ. */
export function limitsText({ lower, upper }: Pick<Tolerance, 'lower' | 'upper'>): string {
  return -lower === upper ? `±${plain(upper, 4)}` : `${signed(lower)} ${signed(upper)}`;
}

/** A group that a tolerance departs with, as a cell shows it: `A`, or with its correlation `A 0.8`. */
export function withText({ with: group }: Tolerance): string {
  if (!group) return '–';
  return group.correlation === undefined
    ? group.group
    : `${group.group} ${plain(group.correlation, 4).replace('-', '−')}`;
}

/** The limits that all rows of a group share; null where they differ. */
export function commonLimits({ rows }: ToleranceGroup): Pick<Tolerance, 'lower' | 'upper'> | null {
  const [first, ...others] = rows.map(({ tolerance }) => tolerance);
  return others.every(({ lower, upper }) => lower === first.lower && upper === first.upper) ? first : null;
}

/**
 * Lines of a spreadsheet as limits of the rows from one on, one line a row. Fails as a whole, with the line, where one cannot be read or there
 * is no row for it.
 */
export function pastedLimits(
  rows: readonly ToleranceRow[],
  from: number,
  lines: readonly string[],
): Outcome<ReadonlyMap<string, ToleranceChange>> {
  const changes = new Map<string, ToleranceChange>();
  for (const [k, line] of lines.entries()) {
    const row = rows[from + k];
    const limits = row
      ? readLimits(line.replaceAll('\t', ' '), row.tolerance)
      : failure(`There are only ${rows.length - from} tolerances from here on.`);
    if (!limits.ok) return failure(`Line ${k + 1} of ${lines.length}: ${limits.reason}`);
    changes.set(row.tolerance.id, limits.value);
  }
  return success(changes);
}

/** One change of all rows. */
export function sameFor(rows: readonly ToleranceRow[], change: ToleranceChange): ReadonlyMap<string, ToleranceChange> {
  return new Map(rows.map(({ tolerance }) => [tolerance.id, change]));
}
