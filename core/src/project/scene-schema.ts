import * as yup from 'yup';
import { BODIES } from '../bodies/registry.ts';
import { DETECTOR_PLACES } from '../detectors/registry.ts';
import { LAWS } from '../emission/laws/registry.ts';
import { REGIONS } from '../emission/regions/registry.ts';
import { layerSpecs } from '../finishes/optics/coating.ts';
import { SCATTER_LAWS } from '../finishes/laws/registry.ts';
import { FACE_OPTICS } from '../finishes/optics/registry.ts';
import type { ParameterSpec } from '../math/parameter.ts';
import { kinds, numberFields, parameterSchema } from './parameter-schema.ts';
import { MOST_AIMS } from './scene.ts';
import {
  CELLS_SPECS,
  FLOOR_SPEC,
  fluxSpec,
  MESH_SPECS,
  ORDER_SPECS,
  PATTERN_SPECS,
  SAMPLING_SPECS,
  TOWARDS_SPECS,
  VOLUME_SPECS,
} from './scene-parameters.ts';
import {
  byKind,
  frameFields,
  id,
  LIMITS,
  list,
  numbersWith,
  object,
  optional,
  positive,
  text,
  weight,
} from './schema-parts.ts';

const flag = () => yup.boolean().strict().typeError('must be true or false');
const word = (...words: string[]) =>
  yup
    .string()
    .strict()
    .required('is missing')
    .oneOf(words, `must be one of: ${words.join(', ')}`);
const whenThere = (schema: yup.ISchema<unknown>) =>
  yup.lazy((value: unknown) => (value === undefined ? yup.mixed().optional() : (schema as yup.AnySchema)));
/** A union of kinds that hold numbers alone. */
function kindFields(table: Readonly<Record<string, readonly ParameterSpec[]>>) {
  return Object.fromEntries(Object.entries(table).map(([kind, specs]) => [kind, object(numberFields(specs))]));
}

const placed = () => ({ frame: optional(frameFields()), within: id().notRequired(), excluded: flag() });

/** Numbers that make no body together (a hole wider than its disc) are no reason to refuse a file: the scene says so where it stands. */
const body = kinds(
  BODIES,
  {},
  {
    lens: object({ lens: id() }),
    mesh: object({ mesh: id(), ...numberFields(MESH_SPECS) }),
    copy: object({ of: id(), mirrored: yup.string().strict().oneOf(['x', 'y', 'z']) }),
    combined: object({
      operation: word('union', 'difference', 'intersection'),
      first: id(),
      second: id(),
    }),
    group: object({}),
  },
);

const part = object({
  id: id(),
  name: text(LIMITS.name),
  comment: text(LIMITS.text),
  ...placed(),
  body,
  material: id().notRequired(),
  volume: optional(numberFields(VOLUME_SPECS)),
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
  pattern: whenThere(byKind(kindFields(PATTERN_SPECS))),
});

const source = object({
  id: id(),
  name: text(LIMITS.name),
  ...placed(),
  flux: parameterSchema(fluxSpec('W')),
  unit: word('W', 'lm'),
  light: list(object({ nm: positive(), weight: weight() }), LIMITS.points, (lines) => lines.min(1, 'has no line')),
  aim: id().notRequired(),
  order: whenThere(byKind(kindFields(ORDER_SPECS))),
  towards: optional(numberFields(TOWARDS_SPECS)),
  region: kinds(REGIONS, {}, { face: object({ part: id(), face: id() }) }),
  law: kinds(LAWS),
});

function rising(list: readonly number[] | undefined): boolean {
  return Array.isArray(list) && list.every((value, i) => i === 0 || value > list[i - 1]);
}

const detector = object({
  id: id(),
  name: text(LIMITS.name),
  ...placed(),
  on: kinds(DETECTOR_PLACES, {}, { face: object({ part: id(), face: id() }) }),
  ...numberFields(CELLS_SPECS),
  counts: word('incident', 'absorbed', 'leaving'),
  light: word('radiometric', 'photometric'),
  ...numberFields([FLOOR_SPEC]),
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
    ...numberFields(SAMPLING_SPECS),
    splitting: word('split', 'one'),
    aims: whenThere(
      yup.array().strict().of(id()).typeError('must be a list').max(MOST_AIMS, `holds more than ${MOST_AIMS} ids`),
    ),
  }),
});

/** A film names its material, or has an index of its own. */
const layer = yup.lazy((value: unknown) => {
  const material = (value as { material?: unknown } | null)?.material;
  const own = material === undefined ? {} : { material: id() };
  return object({ id: id(), ...own, ...numberFields(layerSpecs({ ...(material !== undefined && { material: '' }) })) });
});
const sharesTable = object({
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
);
const spread = kinds(SCATTER_LAWS);

/** One finish of a project. */
export const finishSchema = object({
  id: id(),
  name: text(LIMITS.name).defined('is missing'),
  note: text(LIMITS.text),
  optics: kinds(
    FACE_OPTICS,
    {
      coating: {
        layers: list(layer, LIMITS.points, (layers) => layers.min(1, 'has no film')),
      },
    },
    { coating_table: sharesTable },
  ),
  reflected: whenThere(spread),
  transmitted: whenThere(spread),
});
