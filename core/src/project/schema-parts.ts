import * as yup from 'yup';
import { LONGEST_FORMULA } from '../math/formula.ts';
import { ID_PATTERN } from './model.ts';

/** Longest lists and texts a file may carry; more than any real project, less than what would hang a browser. */
export const LIMITS = {
  surfaces: 2000,
  points: 500,
  lenses: 100,
  table: 20_000,
  sags: 66_000,
  text: 200_000,
  name: 500,
  /** Two million triangles. */
  mesh: 40_000_000,
  formula: LONGEST_FORMULA,
};

/** How deep a document may be nested; a real one has about ten levels. */
export const MAX_DEPTH = 60;
/** How many entries of lists and objects a document may hold together; a lens of 2,000 surfaces has some 40,000. */
export const MAX_VALUES = 2_000_000;

export const id = () =>
  yup
    .string()
    .strict()
    .required('an id is missing')
    .matches(ID_PATTERN, 'an id is made of a–z, 0–9 and _, and starts with a letter')
    .max(200);
export const text = (max: number) => yup.string().strict().max(max, `longer than ${max} characters`);
export const finite = () =>
  yup
    .number()
    .strict()
    .typeError('must be a number')
    .test('finite', 'must be a finite number', (value) => value === undefined || Number.isFinite(value));
export const needed = () => finite().required('a number is missing');
export const positive = () => needed().moreThan(0, 'must be above 0');
export const weight = () => needed().min(0, 'must not be negative');

export const extent = yup.lazy((value: unknown) =>
  typeof value === 'string'
    ? yup.string().strict().oneOf(['infinity'], 'must be a number or "infinity"')
    : needed().typeError('must be a number or "infinity"'),
);

/** Objects are checked for being objects at all; unknown keys are kept. */
export function object<F extends yup.ObjectShape>(fields: F) {
  return yup.object(fields).strict().typeError('must be an object').required('is missing');
}

export function optional<F extends yup.ObjectShape>(fields: F) {
  return yup.object(fields).strict().typeError('must be an object').optional().default(undefined);
}

export const frameFields = () => ({
  dx: finite(),
  dy: finite(),
  dz: finite(),
  tx: finite(),
  ty: finite(),
  tz: finite(),
});

/** Entries of lists that hold no mistake, by the schema that they were looked at with; see `validateKnown`. */
let known: WeakMap<object, unknown> | null = null;
let looked: [object, unknown][] = [];

/**
 * Runs a validation in which entries of lists that were found good before are not looked at again: an edit of a project leaves nearly all of them
 * as they are. Only for documents that nobody changes in place.
 */
export function validateKnown<T>(memory: WeakMap<object, unknown>, validate: () => T): T {
  [known, looked] = [memory, []];
  try {
    const result = validate();
    for (const [entry, schema] of looked) memory.set(entry, schema);
    return result;
  } finally {
    [known, looked] = [null, []];
  }
}

/**
 * A list of entries with ids; how long it is is looked at before what it holds.
 *
 * @param refine - what else is asked of the list as a whole
 */
export function list<S extends yup.ISchema<unknown>>(
  item: S,
  max: number,
  refine: (schema: ReturnType<typeof entries>) => yup.AnySchema = (schema) => schema,
) {
  const entry = yup.lazy((value: unknown) => {
    if (known && typeof value === 'object' && value !== null) {
      if (known.get(value) === item) return yup.mixed() as yup.AnySchema;
      looked.push([value, item]);
    }
    return item as unknown as yup.AnySchema;
  });
  const whole = refine(entries(entry));
  const long = yup.mixed().test('length', `has more than ${max} entries`, () => false);
  return yup.lazy((value: unknown) => (Array.isArray(value) && value.length > max ? long : whole));
}

function entries(entry: yup.ISchema<unknown>) {
  return yup
    .array()
    .strict()
    .of(entry as never)
    .typeError('must be a list')
    .required('is missing')
    .test('unique-ids', 'two entries have the same id', (entries, context) => {
      const seen = new Set<unknown>();
      for (const entry of entries as { id?: unknown }[]) {
        const key = entry?.id;
        if (key !== undefined && seen.has(key)) {
          return context.createError({ message: `two entries have the id ${String(key)}` });
        }
        seen.add(key);
      }
      return true;
    });
}

/** A union told apart by `kind`: the schema of the kind that is named, or the list of known ones as the complaint. */
export function byKind(schemas: Readonly<Record<string, yup.AnySchema>>) {
  return yup.lazy((value: unknown) => {
    const kind = (value as { kind?: unknown } | null | undefined)?.kind;
    if (typeof kind === 'string' && Object.hasOwn(schemas, kind)) return schemas[kind];
    const known = Object.keys(schemas).join(', ');
    return object({
      kind: yup.string().strict().required('is missing').oneOf(Object.keys(schemas), `must be one of: ${known}`),
    });
  });
}

export const numbers = yup.array().strict().of(needed()).typeError('must be a list of numbers').required('is missing');

/** A long list of numbers, looked at in one go: entry by entry Yup takes seconds for what a grid holds. */
export function numbersWith(max: number, legal: (value: number) => boolean, complaint: string) {
  return yup
    .array()
    .strict()
    .typeError('must be a list of numbers')
    .required('is missing')
    .max(max, `has more than ${max} entries`)
    .test('numbers', complaint, (list, context) => {
      const wrong = (list as unknown[]).findIndex(
        (value) => typeof value !== 'number' || !Number.isFinite(value) || !legal(value),
      );
      return wrong < 0 || context.createError({ message: `entry ${wrong + 1} ${complaint}` });
    });
}

/** A list of at least `min` points of `size` numbers each. */
function points(size: number, min: number, what: string) {
  const numbers = `must be ${size === 2 ? 'two' : 'three'} numbers`;
  return yup
    .array()
    .strict()
    .of(yup.array().strict().of(needed()).typeError(numbers).length(size, numbers).required(numbers))
    .typeError(`must be a list of ${what}`)
    .min(min, `has fewer than ${min === 3 ? 'three' : 'two'} ${what}`)
    .max(LIMITS.points, `has more than ${LIMITS.points} ${what}`)
    .required('is missing');
}

/** Corners [x, y] of a polygon. */
export const corners = points(2, 3, 'corners');
/** Places [x, y, z] of a path. */
export const places = points(3, 2, 'places');
