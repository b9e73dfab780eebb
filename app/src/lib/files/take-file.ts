import type { Outcome } from '@ulvex/core';
import type { Desk } from '../desk/desk.svelte.ts';

/** How a file of the user's is taken in. */
export interface Taking<T> {
  /** Most bytes, and what a larger file is none of: `a list of points`. */
  readonly most: number;
  readonly what: string;
  /** Makes of it what is wanted, in a worker. */
  readonly read: (file: File) => Promise<Outcome<T>>;
  readonly use: (value: T) => void;
}

/** Takes in a file that was chosen. What is wrong with it is reported on the desk, and changes nothing. */
export async function takeFile<T>(desk: Desk, file: File, { most, what, read, use }: Taking<T>): Promise<void> {
  const refuse = (reason: string) =>
    (desk.notice = { tone: 'refused', title: `${file.name} was not imported: ${reason}` });
  if (file.size > most) {
    refuse(`it is too large for ${what}.`);
    return;
  }
  try {
    const made = await read(file);
    if (made.ok) use(made.value);
    else refuse(made.reason);
  } catch (error) {
    refuse((error as Error).message);
  }
}
