import type { ResponseLotSummary } from '@ulvex/core/tolerance';

/** How a requirement spreads when made. */
export interface MadeSpread {
  readonly mean: number;
  readonly deviation: number;
}

/** Mean and standard deviation of the requirements that a lot by a response knows, by id. */
export function spreadsOf(
  summary: ResponseLotSummary | null,
  watched: readonly { readonly id: string }[],
): ReadonlyMap<string, MadeSpread> {
  return new Map(
    watched.flatMap(({ id }, k) => {
      const known = summary?.measures[k]?.summary;
      return known ? [[id, { mean: known.mean, deviation: known.deviation }] as const] : [];
    }),
  );
}
