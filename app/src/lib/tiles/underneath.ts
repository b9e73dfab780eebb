/**
 * How charts draw the reference: under what is now, and deaf to the mouse. By height, since the library draws series of one height in the order
 * in which it first met them.
 */
export const UNDERNEATH = { silent: true, z: 1 } as const;

/** What lies in grey under a tile, by what it is. */
export const greyWords = (label?: string) => (label ? `in grey: ${label}` : 'reference in grey');
