/**
 * Large values that do not change, such as a project and its meshes, are sent to a worker once: afterwards a number stands for them. The program
 * and the worker forget the same ones, since the program says which.
 */

/** Names of properties of an input that are sent once; of the lists in such a value, those whose entries are sent once, too. */
export type KeptNames = Readonly<Record<string, readonly string[]>>;

/** What stands in a message for a value: its number, and the value itself when the worker does not have it yet. */
interface Token {
  readonly kept: number;
  readonly value?: unknown;
}

/** An input as it is sent: tokens at the names that are kept. */
export interface Packed {
  readonly input: unknown;
  readonly names: KeptNames;
  /** Numbers that are not used again. */
  readonly forget: readonly number[];
}

/** Whole values that a worker keeps: what runs, what is shown, and what it is compared with. */
const MOST_VALUES = 4;
/** Entries of lists that it keeps. */
const MOST_ENTRIES = 64;

type Fields = Readonly<Record<string, unknown>>;
const isObject = (value: unknown): value is Fields =>
  typeof value === 'object' && value !== null && !Array.isArray(value);

/** What was sent to one worker and is still kept there. Values are compared by identity, so they must never be changed in place. */
export class SentValues {
  readonly #names: KeptNames;
  /** Numbers by value, the one that was used longest ago first. */
  readonly #values = new Map<object, number>();
  readonly #entries = new Map<object, number>();
  #next = 1;

  constructor(names: KeptNames) {
    this.#names = names;
  }

  /** Makes a message of an input, and notes what it carries. */
  pack(input: unknown): Packed {
    if (!isObject(input)) return { input, names: {}, forget: [] };
    const names = Object.fromEntries(Object.entries(this.#names).filter(([name]) => isObject(input[name])));
    const tokens = Object.entries(names).map(([name, lists]) => {
      const value = input[name] as Fields;
      return [name, this.#token(this.#values, value, () => this.#hollow(value, lists))] as const;
    });
    const forget = [...forgotten(this.#values, MOST_VALUES), ...forgotten(this.#entries, MOST_ENTRIES)];
    return { input: { ...input, ...Object.fromEntries(tokens) }, names, forget };
  }

  #token(known: Map<object, number>, value: object, carried: () => unknown): Token {
    const number = known.get(value);
    known.delete(value);
    known.set(value, number ?? this.#next);
    return number === undefined ? { kept: this.#next++, value: carried() } : { kept: number };
  }

  /** A value with tokens in place of the entries of some of its lists. */
  #hollow(value: Fields, lists: readonly string[]): Fields {
    const hollowed = lists
      .filter((list) => Array.isArray(value[list]))
      .map((list) => {
        const entries = value[list] as readonly object[];
        return [list, entries.map((entry) => this.#token(this.#entries, entry, () => entry))] as const;
      });
    return { ...value, ...Object.fromEntries(hollowed) };
  }
}

/** Takes those off a map that were used longest ago, down to a size; their numbers. */
function forgotten(known: Map<object, number>, most: number): number[] {
  const over = [...known].slice(0, Math.max(0, known.size - most));
  for (const [value] of over) known.delete(value);
  return over.map(([, number]) => number);
}

/** What a worker keeps: the other side of `SentValues`. */
export class KeptValues {
  readonly #byNumber = new Map<number, unknown>();

  /** The input that was packed; the same object for the same value as long as it is kept. */
  unpack({ input, names, forget }: Packed): unknown {
    const filled = Object.entries(names).map(([name, lists]) => {
      const token = (input as Fields)[name] as Token;
      return [name, this.#valueOf(token, (hollow) => this.#whole(hollow as Fields, lists))] as const;
    });
    for (const number of forget) this.#byNumber.delete(number);
    return filled.length === 0 ? input : { ...(input as Fields), ...Object.fromEntries(filled) };
  }

  #valueOf(token: Token, made: (carried: unknown) => unknown): unknown {
    if (!this.#byNumber.has(token.kept)) this.#byNumber.set(token.kept, made(token.value));
    return this.#byNumber.get(token.kept);
  }

  #whole(hollow: Fields, lists: readonly string[]): Fields {
    const filled = lists
      .filter((list) => Array.isArray(hollow[list]))
      .map((list) => [list, (hollow[list] as readonly Token[]).map((one) => this.#valueOf(one, (entry) => entry))]);
    return { ...hollow, ...(Object.fromEntries(filled) as Fields) };
  }
}
