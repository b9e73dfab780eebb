/** An id of the form `prefix` + number that no entry has yet. */
export function freshId(prefix: string, entries: readonly { readonly id: string }[]): string {
  const taken = new Set(entries.map((entry) => entry.id));
  for (let n = 1; ; n++) if (!taken.has(`${prefix}${n}`)) return `${prefix}${n}`;
}
