/** How closely a value must be met: within `abs`, or within `rel` of the expected one, whichever is wider. */
export interface Tolerance {
  readonly abs?: number;
  readonly rel?: number;
}

/** Counts of one category of values in one file. */
export interface Counts {
  passed: number;
  failed: number;
  missing: number;
  /** Largest deviation in units of the tolerance. */
  worst: number;
  /** What deviated most. */
  worstAt: string;
}

/** Counts comparisons scalar by scalar, by category, in the order in which categories first appear. */
export class Tally {
  readonly categories = new Map<string, Counts>();

  counts(category: string): Counts {
    let counts = this.categories.get(category);
    if (!counts) {
      counts = { passed: 0, failed: 0, missing: 0, worst: 0, worstAt: '' };
      this.categories.set(category, counts);
    }
    return counts;
  }

  /**
   * Compares one scalar. `null` stands for a value that the lens does not have (a failed ray, an infinite object);
   * it agrees only with null. `undefined` from Ulvex is a value that it should have and does not: a failure.
   */
  compare(
    category: string,
    label: string,
    expected: number | null,
    actual: number | null | undefined,
    tolerance: Tolerance,
  ): void {
    const counts = this.counts(category);
    const deviation = deviationOf(expected, actual, tolerance);
    if (deviation <= 1) counts.passed++;
    else counts.failed++;
    if (deviation > counts.worst) {
      counts.worst = deviation;
      counts.worstAt = `${label}: expected ${expected}, got ${actual}`;
    }
  }

  missing(category: string, count: number): void {
    if (count > 0) this.counts(category).missing += count;
  }
}

/** Deviation in units of the tolerance; Infinity where a number meets none. */
export function deviationOf(
  expected: number | null,
  actual: number | null | undefined,
  { abs = 0, rel = 0 }: Tolerance,
): number {
  if (actual === undefined) return Infinity;
  if (expected === null || actual === null) return expected === actual ? 0 : Infinity;
  const limit = Math.max(abs, rel * Math.abs(expected));
  const difference = Math.abs(actual - expected);
  if (Number.isNaN(difference)) return Infinity;
  if (limit === 0) return difference === 0 ? 0 : Infinity;
  return difference / limit;
}

/** Number of scalars (numbers and nulls) in a piece of a reference file, leaving out keys that are inputs. */
export function countScalars(value: unknown, inputs: ReadonlySet<string>): number {
  if (typeof value === 'number' || value === null) return 1;
  if (Array.isArray(value)) return value.reduce<number>((sum, entry) => sum + countScalars(entry, inputs), 0);
  if (typeof value !== 'object') return 0;
  return Object.entries(value).reduce(
    (sum, [key, entry]) => sum + (inputs.has(key) ? 0 : countScalars(entry, inputs)),
    0,
  );
}
