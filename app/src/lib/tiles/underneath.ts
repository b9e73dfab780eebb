/**
 * How charts draw the reference: under what is now, and deaf to the mouse. By height, since the library draws series of one height in the order
 * in which it first met them.
 */
export const UNDERNEATH = { silent: true, z: 1 } as const;

interface InUnit {
  readonly unit: string;
}

/** The reference, where it is told in the unit of what is now; null where it is not, as angles are beside heights, or where there is none. */
export function comparable<T extends InUnit>(now: T | null, before: T | null | undefined): T | null {
  return now && before?.unit === now.unit ? before : null;
}

/** What lies in grey under a tile, by what it is. */
export const greyWords = (label?: string) => (label ? `in grey: ${label}` : 'reference in grey');

/** What a tile says of the reference, if anything. */
export function referenceWords(
  now: InUnit | null,
  before: InUnit | null | undefined,
  label?: string,
): readonly string[] {
  if (!now || !before) return [];
  return [before.unit === now.unit ? greyWords(label) : `the reference is in ${before.unit} and is not laid under`];
}
