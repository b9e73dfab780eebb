import * as yup from 'yup';
import type { LensEvaluation } from '../imaging/evaluation/lens-evaluation.ts';
import type { SceneEvaluation } from '../imaging/evaluation/scene-evaluation.ts';
import { failure, success, type Outcome } from '../math/outcome.ts';

/** One choice of a measure: told to the user, checked on every read. */
export type SettingSpec = SettingKind & {
  /** Counts only where another choice is one of these; left out of sight elsewhere. */
  readonly when?: { readonly setting: string; readonly is: readonly string[] };
  /** The word under which it is explained by key; none if its title says enough. */
  readonly word?: string;
};

type SettingKind =
  /** Id of a field point, or one of the words in `also`. */
  | {
      readonly kind: 'field';
      readonly title: string;
      readonly also: readonly string[];
      readonly fallback: string | null;
    }
  /** Ids of field points with spaces between them, or `all`. */
  | { readonly kind: 'fields'; readonly title: string; readonly fallback: 'all' }
  /** Id of a wavelength, or one of the words in `also`. */
  | {
      readonly kind: 'wavelength';
      readonly title: string;
      readonly also: readonly string[];
      readonly fallback: string;
    }
  /** Id of a surface, or one of the words in `also`. */
  | {
      readonly kind: 'surface';
      readonly title: string;
      readonly also: readonly string[];
      readonly fallback: string;
    }
  /** Any number, in a unit. */
  | {
      readonly kind: 'number';
      readonly title: string;
      readonly unit: string;
      readonly min: number;
      readonly max: number;
      readonly fallback: number;
    }
  /** Id of something else in the lens; its measure says which. Empty for the measure's own choice. */
  | { readonly kind: 'id'; readonly title: string; readonly fallback: string }
  | {
      readonly kind: 'choice';
      readonly title: string;
      readonly options: readonly string[];
      readonly fallback: string;
    }
  /** Any words, or a picture as `writePicture` makes text of it. */
  | {
      readonly kind: 'text';
      readonly title: string;
      /** Longest text, in letters. */
      readonly most: number;
      readonly of: 'words' | 'picture';
      readonly fallback: string;
    }
  | {
      readonly kind: 'integer';
      readonly title: string;
      readonly min: number;
      readonly max: number;
      readonly fallback: number;
    };

export type SettingSpecs = Readonly<Record<string, SettingSpec>>;

/** What a setting may be, in words. */
export function settingOptions(spec: SettingSpec, fields: readonly string[] = ['id of a field']): string[] {
  switch (spec.kind) {
    case 'choice':
      return [...spec.options];
    case 'integer':
    case 'number':
      return [`${spec.min} to ${spec.max}`];
    case 'id':
      return [`id of a ${spec.title.toLowerCase()}`];
    case 'text':
      return [spec.of === 'words' ? `up to ${spec.most} letters` : 'a picture, from the interface'];
    case 'wavelength':
    case 'surface':
      return [`id of a ${spec.kind}`, ...spec.also];
    case 'field':
      return [...fields, ...spec.also];
    case 'fields':
      return ['ids of fields with spaces between them', 'all'];
  }
}

/** The values of settings: integers as numbers, the rest as strings. */
export type SettingValues<S extends SettingSpecs> = {
  readonly [K in keyof S]: S[K] extends { readonly kind: 'integer' | 'number' } ? number : string;
};

/** What a measure found. */
export interface Measured {
  /** In the measure's unit; finite. */
  readonly value: number;
  /** The unit of this value, where the measure's own depends on what it looks at. */
  readonly unit?: string;
  /** One standard deviation, where the value is sampled at random. */
  readonly standardError?: number;
  /** How it was computed, where there is a choice: sampling, pupil, aim. */
  readonly how?: string;
  /** Why the value says less than it seems to: rays that should have arrived and did not. */
  readonly caution?: string;
  /** The same in two or three words, for where there is no more room; `of some rays` if it is left out. */
  readonly cautionLabel?: string;
}

/** A number computed from a lens. Stored in user files by its id, so an id is never changed. */
export interface Measure<S extends SettingSpecs = SettingSpecs> {
  readonly id: string;
  readonly title: string;
  /** Unit of its value as shown: mm, µm, °, % or empty. */
  readonly unit: string;
  /** Whether it takes much longer than a frame: it is answered after what is drawn at once. */
  readonly slow?: boolean;
  /** How finely its value is found, in its unit, where rounding is not the limit: a condition on it holds within that. */
  readonly precision?: number;
  /** What it is and what its sign means, in plain words, with the formula. */
  readonly meaning: string;
  readonly settings: S;
  /** Pure; shares what it needs with other measures through the evaluation. */
  evaluate(lens: LensEvaluation, settings: SettingValues<S>): Outcome<Measured>;
}

/** A number computed from a scene; `of` tells it from those of lenses. */
export interface SceneMeasure<S extends SettingSpecs = SettingSpecs> extends Omit<Measure<S>, 'evaluate'> {
  readonly of: 'scene';
  /** Pure; shares the rays traced with other measures through the evaluation. */
  evaluate(scene: SceneEvaluation, settings: SettingValues<S>): Outcome<Measured>;
}

/** Types a measure of scenes by its settings. */
export function defineSceneMeasure<const S extends SettingSpecs>(
  measure: Omit<SceneMeasure<S>, 'of'>,
): SceneMeasure<S> {
  return { ...measure, of: 'scene' };
}

/** Types a measure by its settings without naming the type twice. */
export function defineMeasure<const S extends SettingSpecs>(measure: Measure<S>): Measure<S> {
  return measure;
}

/** What was read lately, by measure and text: the same settings are read for every version of a project. */
const lately = new WeakMap<object, Map<string, Outcome<unknown>>>();
/** Settings that are remembered of one measure. */
const MOST_LATELY = 64;

/**
 * Checks the settings of a measure and fills in those that were left out. Unknown settings are refused: a misspelt one
 * would otherwise change nothing in silence.
 */
export function readSettings<S extends SettingSpecs>(
  measure: Pick<Measure<S>, 'title' | 'settings'>,
  given: unknown,
): Outcome<SettingValues<S>> {
  const text = JSON.stringify(given, exactly) ?? '';
  const known = lately.get(measure) ?? new Map<string, Outcome<unknown>>();
  lately.set(measure, known);
  const before = known.get(text);
  if (before) return before as Outcome<SettingValues<S>>;
  const read = checkSettings(measure, given);
  if (known.size >= MOST_LATELY) known.clear();
  known.set(text, read);
  return read;
}

/** What JSON has no word for must not be taken for what it has. */
function exactly(_key: string, value: unknown): unknown {
  const said =
    typeof value === 'number' ? Number.isFinite(value) : ['string', 'boolean', 'object'].includes(typeof value);
  return said ? value : `\u0000${typeof value} ${String(value)}`;
}

function checkSettings<S extends SettingSpecs>(
  measure: Pick<Measure<S>, 'title' | 'settings'>,
  given: unknown,
): Outcome<SettingValues<S>> {
  const fields = Object.fromEntries(
    Object.entries(measure.settings).map(([id, spec]) => [id, settingSchema(id, spec)]),
  );
  const schema = yup
    .object(fields)
    .strict()
    .noUnknown(`${measure.title} has no such setting; it has: ${Object.keys(fields).join(', ') || 'none'}`)
    .typeError('the settings must be an object')
    .nonNullable('the settings must be an object');
  try {
    return success(schema.validateSync(withDefaults(measure.settings, given), { strict: true }) as SettingValues<S>);
  } catch (error) {
    if (error instanceof yup.ValidationError) return failure(`${measure.title}: ${error.message}.`);
    throw error;
  }
}

function withDefaults(specs: SettingSpecs, given: unknown): unknown {
  if (typeof given !== 'object' || given === null || Array.isArray(given)) return given;
  const filled: Record<string, unknown> = { ...given };
  for (const [id, spec] of Object.entries(specs)) {
    if (filled[id] === undefined && spec.fallback !== null) filled[id] = spec.fallback;
  }
  return filled;
}

function settingSchema(id: string, spec: SettingSpec): yup.Schema {
  switch (spec.kind) {
    case 'integer':
      return yup
        .number()
        .typeError(`${id} must be a whole number`)
        .integer(`${id} must be a whole number`)
        .min(spec.min, `${id} must be at least ${spec.min}`)
        .max(spec.max, `${id} must be at most ${spec.max}`)
        .required(`${id} is missing`);
    case 'choice':
      return yup
        .string()
        .typeError(`${id} must be one of ${spec.options.join(', ')}`)
        .oneOf([...spec.options], `${id} must be one of ${spec.options.join(', ')}`)
        .required(`${id} is missing`);
    case 'number':
      return yup
        .number()
        .typeError(`${id} must be a number`)
        .min(spec.min, `${id} must be at least ${spec.min} ${spec.unit}`.trim())
        .max(spec.max, `${id} must be at most ${spec.max} ${spec.unit}`.trim())
        .required(`${id} is missing`);
    case 'text':
      return yup
        .string()
        .typeError(`${id} must be a text`)
        .max(spec.most, `${id} must have at most ${spec.most} letters`)
        .defined(`${id} is missing`);
    case 'fields':
      return yup.string().typeError(`${id} must name fields`).max(10_000).defined(`${id} is missing`);
    case 'wavelength':
    case 'surface':
    case 'id':
      return yup.string().typeError(`${id} must be an id`).defined(`${id} is missing`);
    case 'field':
      return yup.string().typeError(`${id} must name a field`).required(`${id} is missing: name a field by its id`);
  }
}
