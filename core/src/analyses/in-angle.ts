import type { Analysed } from './analysis.ts';

/** Words about places in the focus of a lens of 1000 mm as words about angles: a mm there is a mrad. */
export function inAngleWords(words: string): string {
  return words.replaceAll('µm', 'µrad').replace(/(^|[ /%.±\d])mm(?![a-z])/g, '$1mrad');
}

/** What was found behind an ideal lens of 1000 mm, told as angles of the afocal lens in front of it. Numbers stay what they are. */
export function toldInAngle(found: Analysed): Analysed {
  return deep(found) as Analysed;
}

/** Keys whose texts are units or words for people; all others are names. */
const WORDS: ReadonlySet<string> = new Set(['unit', 'title', 'name', 'about', 'words']);

function deep(value: unknown, said = false): unknown {
  if (typeof value === 'string') return said ? inAngleWords(value) : value;
  if (Array.isArray(value))
    return said || value.some((one) => typeof one === 'object') ? value.map((one) => deep(one, said)) : value;
  if (value === null || typeof value !== 'object' || ArrayBuffer.isView(value)) return value;
  return Object.fromEntries(Object.entries(value).map(([key, part]) => [key, deep(part, WORDS.has(key))]));
}
