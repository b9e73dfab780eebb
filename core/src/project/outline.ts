import { MAX_DEPTH, MAX_VALUES } from './schema-parts.ts';

/** Keys that would reach into the objects of the program itself. */
const RESERVED: ReadonlySet<string> = new Set(['__proto__', 'constructor', 'prototype']);

/** One thing wrong in a file: the place as a path of ids, and what is wrong there. */
export interface FileProblem {
  readonly place: string;
  readonly reason: string;
}

/**
 * What makes a parsed document unfit to be looked at more closely, whatever it is a document of; null for one that is fit: it is nested too deep,
 * holds too many values, a reserved key, or a number that no file can hold (1e999 is read as Infinity and would be written as null).
 *
 * Takes no recursion and stops at the first find, so no document can make it hang or run out of stack.
 */
export function outlineProblem(root: unknown): FileProblem | null {
  const open: { readonly value: unknown; readonly place: string; readonly depth: number }[] = [
    { value: root, place: '', depth: 0 },
  ];
  let values = 0;
  const problem = (place: string, reason: string): FileProblem => ({ place: place || 'file', reason });
  for (let next = open.pop(); next; next = open.pop()) {
    const { value, place, depth } = next;
    if (typeof value === 'number' && !Number.isFinite(value)) return problem(place, 'must be a finite number');
    if (typeof value !== 'object' || value === null) continue;
    if (depth > MAX_DEPTH) return problem(place, `is nested deeper than ${MAX_DEPTH} levels`);
    if (Array.isArray(value)) {
      values += value.length;
      if (values > MAX_VALUES) return problem(place, TOO_MANY);
      for (const [i, entry] of value.entries()) {
        if (typeof entry === 'number' && Number.isFinite(entry)) continue; // long tables need no entry of their own
        open.push({ value: entry, place: `${place}[${i}]`, depth: depth + 1 });
      }
      continue;
    }
    for (const key of Object.keys(value)) {
      if (RESERVED.has(key)) return problem(place, `holds the key “${key}”, which is reserved`);
      if (++values > MAX_VALUES) return problem(place, TOO_MANY);
      const entry = (value as Record<string, unknown>)[key];
      if (entry !== null && (typeof entry === 'object' || typeof entry === 'number'))
        open.push({ value: entry, place: place ? `${place}.${key}` : key, depth: depth + 1 });
    }
  }
  return null;
}

/**
 * What makes a text of JSON unfit to be parsed at all: it is nested too deep, or holds too many values. Parsing a few
 * million small lists takes a parser
 * many seconds, in which nothing can be given up; this takes milliseconds. Null for a text that is fit, and for one
 * that is no JSON: the parser says why.
 */
export function textProblem(text: string, most = MAX_VALUES): string | null {
  let [depth, values, quoted] = [0, 0, false];
  for (let i = 0; i < text.length; i++) {
    const code = text.charCodeAt(i);
    if (quoted) {
      if (code === BACKSLASH) i++;
      else if (code === QUOTE) quoted = false;
    } else if (code === QUOTE) quoted = true;
    else if (code === COMMA || code === COLON) values++;
    else if (code === OPEN_LIST || code === OPEN_OBJECT) {
      values++;
      if (++depth > MAX_DEPTH) return `is nested deeper than ${MAX_DEPTH} levels`;
    } else if (code === CLOSE_LIST || code === CLOSE_OBJECT) depth--;
    if (values > 2 * most) return `holds more than ${most.toLocaleString('en')} values`; // a key and its value count two here
  }
  return null;
}

const [QUOTE, BACKSLASH, COMMA, COLON, OPEN_LIST, CLOSE_LIST, OPEN_OBJECT, CLOSE_OBJECT] = [...'"\\,:[]{}'].map(
  (letter) => letter.charCodeAt(0),
);

/** How many entries lists and objects hold together, counted no further than `most`. */
export function valueCount(root: unknown, most: number): number {
  const open = [root];
  let count = 0;
  for (let next = open.pop(); next !== undefined && count <= most; next = open.pop()) {
    if (typeof next !== 'object' || next === null) continue;
    for (const entry of Array.isArray(next) ? next : Object.values(next)) {
      count++;
      if (typeof entry === 'object') open.push(entry);
    }
  }
  return count;
}

const TOO_MANY = `the file holds more than ${MAX_VALUES.toLocaleString('en')} values`;
