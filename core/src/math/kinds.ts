import type { ParameterSpec } from './parameter.ts';

/** A list of numbers that goes with others row by row: a column of a table. */
export interface TableColumn {
  readonly id: string;
  readonly title: string;
  readonly unit: string;
  readonly min?: number;
  readonly above?: number;
  readonly most?: number;
  /** Whether each entry is above the one before. */
  readonly rises?: true;
}

/** Lists of one length that a record holds beside its numbers. */
export interface TableSpec {
  readonly columns: readonly TableColumn[];
  /** Fewest rows. */
  readonly least: number;
}

/** What every registry knows about a kind of thing: how it is called, its numbers, tables and points. */
export interface Kind<R extends { readonly kind: string }> {
  readonly kind: R['kind'];
  readonly title: string;
  /** One sentence. */
  readonly meaning: string;
  /** Its numbers: for the schema, addresses, cells. */
  readonly parameters: readonly ParameterSpec[];
  readonly table?: TableSpec;
  /** Lists of points that it holds, by name, with their axes: two for the corners of a polygon, three for the places of a path. */
  readonly points?: Readonly<Record<string, readonly string[]>>;
}

/** The definitions of a registry, found by their kind. */
export class Kinds<D extends { readonly kind: string }> {
  readonly #what: string;
  readonly #byKind = new Map<string, D>();

  /**
   * @param what - one of its things, for the message about one that is missing
   * @throws if two have the same kind
   */
  constructor(what: string, list: readonly { readonly kind: string }[]) {
    this.#what = what;
    for (const definition of list) {
      if (this.#byKind.has(definition.kind)) throw new Error(`There are two of a ${what} called ${definition.kind}`);
      this.#byKind.set(definition.kind, definition as D);
    }
  }

  /** The definition of a kind, or undefined for a word that is none. */
  find(kind: string): D | undefined {
    return this.#byKind.get(kind);
  }

  /** The definition of a kind. Throws for one that is not registered: documents are validated before. */
  of(kind: string): D {
    const definition = this.#byKind.get(kind);
    if (!definition) throw new Error(`There is no ${this.#what} called ${String(kind)}`);
    return definition;
  }
}

/** What is wrong with an entry of a column, in words that follow its name; null if nothing is. */
export function illegalEntry({ min, above, most }: TableColumn, value: unknown): string | null {
  const wrong =
    typeof value !== 'number' ||
    !Number.isFinite(value) ||
    (min !== undefined && value < min) ||
    (above !== undefined && value <= above) ||
    (most !== undefined && value > most);
  if (!wrong) return null;
  if (above !== undefined) return `must be above ${above}${most === undefined ? '' : ` and at most ${most}`}`;
  if (min === undefined) return most === undefined ? 'must be a number' : `must be at most ${most}`;
  if (most !== undefined) return `must be from ${min} to ${most}`;
  return min === 0 ? 'must not be negative' : `must be at least ${min}`;
}

/** What is wrong with the lists of a table together, in a sentence; null if nothing is. Its entries are looked at by `illegalEntry`. */
export function tableProblem({ columns, least }: TableSpec, record: Readonly<Record<string, unknown>>): string | null {
  const lists = columns.map(({ id }) => record[id]);
  const rows = (lists[0] as readonly unknown[] | undefined)?.length ?? 0;
  const good =
    rows >= least &&
    columns.every(({ rises }, c) => {
      const list = lists[c];
      return (
        Array.isArray(list) &&
        list.length === rows &&
        (!rises || list.every((value, i) => i === 0 || value > list[i - 1]))
      );
    });
  if (good) return null;
  const rising = columns.filter(({ rises }) => rises).map(({ id }) => id);
  const others = columns.filter(({ rises }) => !rises).map(({ id }) => id);
  const order =
    rising.length > 0 ? `${rising.join(' and ')} must rise and have as many entries as ` : 'as many entries each: ';
  return `${order}${others.join(' and ')}, at least ${least === 2 ? 'two' : least}`;
}
