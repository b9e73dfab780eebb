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

/**
 * Takes in the file that was chosen in a file input, and empties the input, so that the same file can be chosen again. What is wrong with it is told
 * on the desk, and changes nothing.
 */
export async function takeFile<T>(
  desk: Desk,
  input: HTMLInputElement,
  { most, what, read, use }: Taking<T>,
): Promise<void> {
  const file = input.files?.[0];
  input.value = '';
  if (!file) return;
  const refuse = (reason: string) =>
    (desk.notice = { tone: 'refused', title: `${file.name} was not taken in: ${reason}` });
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
