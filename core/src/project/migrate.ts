import { failure, success, type Outcome } from '../math/outcome.ts';
import type { Edit } from './edit.ts';
import type { History } from './history.ts';
import { PROJECT_VERSION } from './model.ts';

type Json = Record<string, unknown>;

/** Brings a document of version `from` to version `from + 1`. It may trust nothing: validation comes after. */
export type Migration = (document: Json) => Json;

/** Measures and tiles that counted against the paraxial image before version 2, when they could not say so. */
const COUNTED_PARAXIALLY: ReadonlySet<unknown> = new Set(['distortion', 'magnification']);
const DRAWN_PARAXIALLY: ReadonlySet<unknown> = new Set(['field_curves', 'distortion_grid']);

const isObject = (value: unknown): value is Json =>
  typeof value === 'object' && value !== null && !Array.isArray(value);
const paraxial = (settings: unknown): Json => ({
  scale: 'paraxial image',
  ...(isObject(settings) && settings),
});

/**
 * Version 2: distortion and magnification count against the image surface in use unless they say otherwise. What an older file asks for says
 * that it meant the paraxial image: requirements, goals, conditions and scans by their measure, tiles by their kind, wherever they stand.
 */
function sayParaxial(value: unknown): unknown {
  if (Array.isArray(value)) return value.map(sayParaxial);
  if (!isObject(value)) return value;
  const said = Object.fromEntries(Object.entries(value).map(([key, part]) => [key, sayParaxial(part)]));
  const meant = COUNTED_PARAXIALLY.has(said.measure) || (DRAWN_PARAXIALLY.has(said.kind) && 'columns' in said);
  return meant ? { ...said, settings: paraxial(said.settings) } : said;
}

/** Version 3: films of coatings have ids, so that their numbers have addresses; older ones are counted from the outermost on. */
function nameFilms(value: unknown): unknown {
  if (Array.isArray(value)) return value.map(nameFilms);
  if (!isObject(value)) return value;
  const named = Object.fromEntries(Object.entries(value).map(([key, part]) => [key, nameFilms(part)]));
  if (named.kind !== 'coating' || !Array.isArray(named.layers)) return named;
  const layers = named.layers.map((layer: unknown, k) => (isObject(layer) ? { id: `f${k + 1}`, ...layer } : layer));
  return { ...named, layers };
}

/** `MIGRATIONS[v]` brings a file of version v to v + 1. */
const MIGRATIONS: Readonly<Record<number, Migration>> = {
  1: (document) => sayParaxial(document) as Json,
  2: (document) => ({ ...document, ...('finishes' in document && { finishes: nameFilms(document.finishes) }) }),
};

/** An edit of version 2: what it puts in has films with ids. */
function namedFilms(edit: Edit): Edit {
  if (edit.kind === 'insert') return { ...edit, item: nameFilms(edit.item) as { readonly id: string } };
  return edit.kind === 'set' ? { ...edit, value: nameFilms(edit.value) } : edit;
}

/** An edit of a version 1, whose paths are those of today: its value says what it meant, settings by the measure that they belong to. */
function editForward(edit: Edit, measures: ReadonlyMap<string, unknown>): Edit {
  if (edit.kind === 'insert') return { ...edit, item: sayParaxial(edit.item) as { readonly id: string } };
  if (edit.kind !== 'set') return edit;
  const settingsOf = /^(?:requirements|goals)\.(\w+)\.settings$/.exec(edit.path)?.[1];
  if (settingsOf && COUNTED_PARAXIALLY.has(measures.get(settingsOf))) return { ...edit, value: paraxial(edit.value) };
  return { ...edit, value: sayParaxial(edit.value) };
}

/** A history brought forward beside its project, so that going back means what it meant. */
export function historyForward(
  history: History,
  from: number,
  {
    requirements,
    goals,
  }: {
    readonly requirements: readonly { readonly id: string }[];
    readonly goals?: readonly { readonly id: string }[];
  },
): History {
  if (from >= PROJECT_VERSION) return history;
  const all = [...requirements, ...(goals ?? [])] as readonly {
    readonly id: string;
    readonly measure?: unknown;
  }[];
  const measures = new Map(all.map(({ id, measure }) => [id, measure]));
  const forward = (edits: readonly Edit[]) =>
    edits.map((edit) => namedFilms(from < 2 ? editForward(edit, measures) : edit));
  return {
    ...history,
    entries: history.entries.map((entry) => ({
      ...entry,
      edits: forward(entry.edits),
      inverse: forward(entry.inverse),
    })),
  };
}

/**
 * Brings a document forward to the version of this program, step by step. Does not change its argument.
 *
 * Fails, naming the step, when a document is too broken for a step to work on.
 *
 * @param version - a whole number not above PROJECT_VERSION
 */
export function migrate(document: Json, version: number, steps = MIGRATIONS, target = PROJECT_VERSION): Outcome<Json> {
  let result = document;
  for (let from = version; from < target; from++) {
    const step: Migration | undefined = steps[from];
    if (!step) return failure(`files of version ${from} cannot be read any more`);
    try {
      result = { ...step(result), version: from + 1 };
    } catch (error) {
      return failure(`bringing the file from version ${from} to ${from + 1} failed: ${(error as Error).message}`);
    }
  }
  return success(result);
}
