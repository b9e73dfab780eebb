import type { Random } from './random.ts';

const NUMBERS = [0, -0, 1, -1, 0.5, 1e-300, 1e300, -1e300, 1e16, 273.15, -274, 5001, 2 ** 31, 2 ** 53, 1000.5, 5e-324];
const WORDS = [
  '',
  'infinity',
  'Infinity',
  'NaN',
  '__proto__',
  'constructor',
  'a'.repeat(501),
  '9'.repeat(400),
  '\u0000',
  '\ud800',
  'l1_front',
  '../../x',
  '<b>',
  '=1+1',
  '1mm+'.repeat(600) + '1mm',
];
const KEYS = [
  '__proto__',
  'constructor',
  'prototype',
  'toString',
  'id',
  'kind',
  'radius',
  'points',
  'settings',
  'then',
  'length',
  '0',
  '',
];

/** Any value that JSON can hold, small. */
function anything(random: Random, depth = 0): unknown {
  switch (random.below(depth > 3 ? 5 : 8)) {
    case 0:
      return null;
    case 1:
      return random.below(2) === 0;
    case 2:
      return random.of(NUMBERS);
    case 3:
      return random.of(WORDS);
    case 4:
      return random.below(1e6) / 1000;
    case 5:
      return Array.from({ length: random.below(4) }, () => anything(random, depth + 1));
    case 6: {
      // Made as a parser makes it: keys such as __proto__ are keys like others.
      const entries = Array.from(
        { length: random.below(4) },
        () => [random.of(KEYS), anything(random, depth + 1)] as const,
      );
      return JSON.parse(
        `{${entries.map(([key, value]) => `${JSON.stringify(key)}:${JSON.stringify(value)}`).join(',')}}`,
      ) as unknown;
    }
    default: {
      let nested: unknown = 1;
      for (let i = random.below(200); i > 0; i--) nested = [nested];
      return nested;
    }
  }
}

/** Where something is, as a list or object and a key of it. */
interface Place {
  readonly holder: Record<string, unknown>;
  readonly key: string;
}

function places(root: unknown): Place[] {
  const found: Place[] = [];
  const open = [root];
  for (let next = open.pop(); next !== undefined; next = open.pop()) {
    if (typeof next !== 'object' || next === null) continue;
    for (const key of Object.keys(next)) {
      const holder = next as Record<string, unknown>;
      found.push({ holder, key });
      if (typeof holder[key] === 'object') open.push(holder[key]);
    }
  }
  return found;
}

/** Kinds of changes to a document. */
export const CHANGES = ['value', 'remove', 'swap', 'copy', 'key', 'number', 'repeat', 'near'] as const;

/** A document with one to four of its places changed, each in its own way; the document itself stays as it is. */
export function mutated(
  document: unknown,
  random: Random,
): { readonly document: unknown; readonly kinds: readonly string[] } {
  const copy = structuredClone(document);
  const kinds: string[] = [];
  for (let times = 1 + random.below(4); times > 0; times--) {
    const all = places(copy);
    if (all.length === 0) break;
    const { holder, key } = random.of(all);
    const kind = random.of(CHANGES);
    kinds.push(kind);
    const value = holder[key];
    if (kind === 'value') holder[key] = anything(random);
    else if (kind === 'remove') Reflect.deleteProperty(holder, key);
    else if (kind === 'number') holder[key] = random.of(NUMBERS);
    else if (kind === 'near' && typeof value === 'number') holder[key] = value * (1 + random.next()) - random.below(3);
    else if (kind === 'key' && !Array.isArray(holder))
      Object.defineProperty(holder, random.of(KEYS), {
        value,
        enumerable: true,
        writable: true,
        configurable: true,
      });
    else if (kind === 'repeat' && Array.isArray(value))
      holder[key] = Array.from(
        { length: 1 + random.below(600) },
        (_, i) => value[i % Math.max(1, value.length)] as unknown,
      );
    else {
      const other = random.of(all);
      const moved = structuredClone(other.holder[other.key]);
      if (kind === 'swap') other.holder[other.key] = value === other.holder ? null : structuredClone(value);
      holder[key] = moved;
    }
  }
  return { document: copy, kinds };
}

/** A text with some of its letters, words or lines changed. */
export function mutatedText(text: string, random: Random): string {
  let result = text;
  for (let times = 1 + random.below(5); times > 0; times--) {
    const at = random.below(result.length + 1);
    const length = random.below(random.of([2, 10, 200]));
    const piece = random.of([
      () => '',
      () => random.of(WORDS),
      () => String(random.of(NUMBERS)),
      () => String.fromCharCode(random.below(random.of([128, 65536]))),
      () => result.slice(random.below(result.length), random.below(result.length)).slice(0, 4000),
      () =>
        random.of(['1e999', '-', ',', ';', '\n', '(((((((((', '[', '{', '"', '%', '^', '°', '/0', '*', ' e ', 'sqrt(']),
    ])();
    result = (result.slice(0, at) + piece + result.slice(at + length)).slice(0, 400_000);
  }
  return result;
}
