import * as yup from 'yup';
import { BODIES } from '../bodies/registry.ts';
import { OPTICS_SPECS, SCATTER_SPECS } from '../finishes/finish.ts';
import { parameterSchema } from './parameter-schema.ts';
import { MOST_AIMS } from './scene.ts';
import { byKind, corners, finite, frameFields, id, LIMITS, list, needed, numbersWith, object, optional, places, positive, text, weight } from './schema-parts.ts'; // prettier-ignore

const whole = (least: number, most: number) =>
  needed()
    .integer('must be a whole number')
    .min(least, `must be at least ${least}`)
    .max(most, `must be at most ${most}`);
const flag = () => yup.boolean().strict().typeError('must be true or false');
const word = (...words: string[]) =>
  yup
    .string()
    .strict()
    .required('is missing')
    .oneOf(words, `must be one of: ${words.join(', ')}`);
const share = () => needed().min(0, 'must not be negative').max(1, 'must be at most 1');
const whenThere = (schema: yup.ISchema<unknown>) =>
  yup.lazy((value: unknown) => (value === undefined ? yup.mixed().optional() : (schema as yup.AnySchema)));
const placed = () => ({ frame: optional(frameFields()), within: id().notRequired(), excluded: flag() });

/** Bodies with faces of their own; those drawn by corners need these beside their numbers. */
const own = Object.fromEntries(
  BODIES.map(({ kind, parameters, objection }) => {
    const fields = parameters.map((spec) => [spec.id, parameterSchema(spec)] as const);
    const drawn = kind === 'revolved' || kind === 'extruded' || kind === 'swept';
    const more = { ...(drawn && { points: corners }), ...(kind === 'swept' && { path: places }) };
    const schema = object({ ...Object.fromEntries(fields), ...more });
    return [
      kind,
      schema.test('body', '', (value, context) => {
        let wrong: string | null;
        try {
          wrong = objection?.(value as never) ?? null;
        } catch {
          return true; // a number is missing or no number: said where it stands
        }
        return wrong === null || context.createError({ message: wrong });
      }),
    ];
  }),
);

const body = byKind({
  ...own,
  lens: object({ lens: id() }),
  mesh: object({ mesh: id(), scale: finite().moreThan(0, 'must be above 0') }),
  copy: object({ of: id(), mirrored: yup.string().strict().oneOf(['x', 'y', 'z']) }),
  combined: object({
    operation: word('union', 'difference', 'intersection'),
    first: id(),
    second: id(),
  }),
  group: object({}),
});

const part = object({
  id: id(),
  name: text(LIMITS.name),
  comment: text(LIMITS.text),
  ...placed(),
  body,
  material: id().notRequired(),
  volume: optional({
    absorption: finite().min(0, 'must not be negative'),
    freePath: finite().moreThan(0, 'must be above 0'),
    asymmetry: finite().moreThan(-1, 'must be above −1').lessThan(1, 'must be below 1'),
  }),
  finish: id().notRequired(),
  faces: whenThere(
    yup
      .object()
      .strict()
      .typeError('must be an object')
      .test('finishes', 'each face holds an object with the id of a finish', (faces) =>
        Object.values((faces ?? {}) as Record<string, unknown>).every(
          (face) =>
            typeof face === 'object' &&
            face !== null &&
            ((face as { finish?: unknown }).finish === undefined ||
              id().isValidSync((face as { finish?: unknown }).finish)),
        ),
      ),
  ),
  pattern: whenThere(
    byKind({
      ring: object({ count: whole(1, 1000), radius: needed() }),
      grid: object({ columns: whole(1, 100), rows: whole(1, 100), dx: needed(), dy: needed() }),
      facets: object({
        columns: whole(1, 100),
        rows: whole(1, 100),
        dx: needed(),
        dy: needed(),
        radius: needed().test('radius', 'must not be 0', (value) => value !== 0),
        conic: finite(),
      }),
    }),
  ),
});

const half = (most: number) => needed().min(0, 'must not be negative').max(most, `must be at most ${most}°`);

const source = object({
  id: id(),
  name: text(LIMITS.name),
  ...placed(),
  flux: needed().min(0, 'must not be negative'),
  unit: word('W', 'lm'),
  light: list(object({ nm: positive(), weight: weight() }), LIMITS.points).min(1, 'has no line'),
  aim: id().notRequired(),
  order: whenThere(
    byKind({
      grid: object({ columns: whole(1, 1000), rows: whole(1, 1000) }),
      rings: object({ rings: whole(1, 1000), arms: whole(1, 1000) }),
    }),
  ),
  towards: optional({ x: needed(), y: needed(), z: needed() }),
  region: byKind({
    point: object({}),
    disc: object({ radius: positive(), inner: finite().min(0, 'must not be negative') }),
    rectangle: object({ width: positive(), height: positive() }),
    filament: object({ radius: positive(), length: positive() }),
    sphere: object({ radius: positive() }),
    waist: object({ radius: positive() }),
    face: object({ part: id(), face: id() }),
  }),
  law: byKind({
    lambertian: object({ half: half(90).moreThan(0, 'must be above 0') }),
    isotropic: object({ half: half(180).moreThan(0, 'must be above 0') }),
    cosine_power: object({ power: needed().min(0, 'must not be negative').max(1e6, 'must be at most 1e6') }),
    parallel: object({ half: half(30) }),
    gaussian: object({ half: half(30).moreThan(0, 'must be above 0') }),
    table: object({
      degrees: numbersWith(LIMITS.table, (value) => value >= 0 && value <= 180, 'must be from 0 to 180'),
      intensity: numbersWith(LIMITS.table, (value) => value >= 0, 'must not be negative'),
    }).test('table', 'degrees must rise and have as many entries as intensity, at least two', (value) => {
      const { degrees, intensity } = value as { degrees?: number[]; intensity?: number[] };
      return rising(degrees) && degrees!.length >= 2 && degrees!.length === intensity?.length;
    }),
  }),
});

function rising(list: readonly number[] | undefined): boolean {
  return Array.isArray(list) && list.every((value, i) => i === 0 || value > list[i - 1]);
}

const detector = object({
  id: id(),
  name: text(LIMITS.name),
  ...placed(),
  on: byKind({
    face: object({ part: id(), face: id() }),
    rectangle: object({ width: positive(), height: positive() }),
    disc: object({ radius: positive() }),
    cylinder: object({ radius: positive(), length: positive() }),
    sphere: object({ radius: positive() }),
    block: object({ width: positive(), height: positive(), depth: positive(), layers: whole(1, 200) }),
    far: object({
      halfX: half(180).moreThan(0, 'must be above 0'),
      halfY: half(90).moreThan(0, 'must be above 0'),
    }),
  }),
  columns: whole(1, 1000),
  rows: whole(1, 1000),
  counts: word('incident', 'absorbed', 'leaving'),
  light: word('radiometric', 'photometric'),
  floor: finite().min(0, 'must not be negative'),
});

/** One scene of a project. */
export const sceneSchema = object({
  id: id(),
  name: text(LIMITS.name).defined('is missing'),
  medium: id(),
  parts: list(part, LIMITS.surfaces),
  sources: list(source, LIMITS.points),
  detectors: list(detector, LIMITS.points),
  sampling: object({
    rays: whole(1, 1e9),
    seed: whole(0, 2 ** 31 - 1),
    splitting: word('split', 'one'),
    threshold: needed().min(0, 'must not be negative').lessThan(1, 'must be below 1'),
    events: whole(1, 100_000),
    aims: whenThere(
      yup
        .array()
        .strict()
        .of(id())
        .typeError('must be a list')
        .max(MOST_AIMS, `holds more than ${MOST_AIMS} ids`),
    ),
  }),
});

const layer = object({
  index: positive(),
  extinction: finite().min(0, 'must not be negative'),
  thickness: positive(),
});
const spread = byKind({
  ...kindFields(SCATTER_SPECS),
  table: object({
    beta: numbersWith(LIMITS.table, (value) => value > 0 && value <= 2, 'must be above 0 and at most 2'),
    bsdf: numbersWith(LIMITS.table, (value) => value > 0, 'must be above 0'),
  }).test('table', 'beta must rise and have as many entries as bsdf, at least two', (value) => {
    const { beta, bsdf } = value as { beta?: number[]; bsdf?: number[] };
    return rising(beta) && beta!.length >= 2 && beta!.length === bsdf?.length;
  }),
});

function kindFields(table: Readonly<Record<string, readonly Parameters<typeof parameterSchema>[0][]>>) {
  return Object.fromEntries(
    Object.entries(table).map(([kind, specs]) => [
      kind,
      object(Object.fromEntries(specs.map((spec) => [spec.id, parameterSchema(spec)]))),
    ]),
  );
}

/** One finish of a project. */
export const finishSchema = object({
  id: id(),
  name: text(LIMITS.name).defined('is missing'),
  note: text(LIMITS.text),
  optics: byKind({
    ...kindFields(OPTICS_SPECS),
    coating: object({ layers: yup.array().strict().of(layer).typeError('must be a list').min(1, 'has no layer').max(LIMITS.points).required('is missing') }), // prettier-ignore
    split: object({ reflectance: share(), transmittance: share() }).test(
      'energy',
      'reflectance and transmittance are more than 1 together',
      (value) => {
        const { reflectance = 0, transmittance = 0 } = value as {
          reflectance?: number;
          transmittance?: number;
        };
        return reflectance + transmittance <= 1 + 1e-12;
      },
    ),
    coating_table: object({
      nm: numbersWith(LIMITS.table, (value) => value > 0, 'must be above 0'),
      degrees: numbersWith(LIMITS.table, (value) => value >= 0 && value <= 90, 'must be from 0 to 90'),
      reflectance: numbersWith(LIMITS.table, (value) => value >= 0 && value <= 1, 'must be from 0 to 1'),
      transmittance: numbersWith(LIMITS.table, (value) => value >= 0 && value <= 1, 'must be from 0 to 1'),
    }).test(
      'table',
      'nm and degrees must rise, and both tables hold one row for each nm, together never above 1',
      (value) => {
        const { nm, degrees, reflectance, transmittance } = value as Record<string, number[] | undefined>;
        if (!rising(nm) || !rising(degrees)) return false;
        const size = nm!.length * degrees!.length;
        return (
          reflectance?.length === size &&
          transmittance?.length === size &&
          reflectance.every((r, i) => r + transmittance[i] <= 1 + 1e-9)
        );
      },
    ),
  }),
  reflected: whenThere(spread),
  transmitted: whenThere(spread),
});
