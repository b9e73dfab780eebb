import { wavelengthName } from '../light/spectral-lines.ts';
import type { LensEvaluation } from '../imaging/evaluation/lens-evaluation.ts';
import type { SceneEvaluation } from '../imaging/evaluation/scene-evaluation.ts';
import type { Detail } from '../imaging/wavefront/diffraction-pupil.ts';
import { failure, success, type Outcome } from '../math/outcome.ts';
import { readSettings, type SettingSpecs, type SettingValues } from '../measures/measure.ts';
import type { FieldPoint } from '../project/model.ts';
import { toldInAngle } from './in-angle.ts';
import type { Panel } from './panels.ts';

/** What an analysis found: its pictures, and how they came about. */
export interface Analysed {
  readonly panels: readonly Panel[];
  /** Choices, sampling and limits, in a few words each. */
  readonly about: readonly string[];
  /** How many pictures stand side by side, where that means something. */
  readonly columns?: number;
  /** Whether the pictures are small, all to one scale that `about` says: axes are not named on each. */
  readonly compact?: boolean;
  /** What is missing and why, a line each; a name of a field or surface may come first. */
  readonly missing?: readonly string[];
  /** What it means, in sentences. */
  readonly words?: readonly string[];
  /** Settings that were left to the lens, as they came out; what is laid beside it for comparison is asked by the same. */
  readonly resolved?: Readonly<Record<string, number>>;
}

/** Under which question of a designer the shelf lists an analysis. */
export type AnalysisTopic = 'lens' | 'rays' | 'field' | 'wavefront' | 'image' | 'theory' | 'light' | 'ways';

/** Something that is seen of a lens. Stored in user files by its id, so an id is never changed. */
export interface Analysis<S extends SettingSpecs = SettingSpecs> {
  readonly id: string;
  readonly title: string;
  readonly topic: AnalysisTopic;
  /** The question that it answers, as a designer asks it. */
  readonly question: string;
  /** What it is, its signs and its source, in plain words. */
  readonly meaning: string;
  /** Whether it is wider than high on a board. */
  readonly wide?: boolean;
  /** Whether it is narrower than most. */
  readonly narrow?: boolean;
  /** Whether it takes more than the usual height. */
  readonly tall?: boolean;
  readonly settings: S;
  /**
   * Pure; shares what it needs through the evaluation. It yields now and then, where the work may be put off or given up. In `draft` it is
   * quick, for a number that is being turned; what it says then is near to what `full` will say.
   */
  evaluate(lens: LensEvaluation, settings: SettingValues<S>, detail: Detail): Generator<void, Outcome<Analysed>, void>;
  /** What settings mean that a project keeps from before some were named otherwise. */
  older?(given: Readonly<Record<string, unknown>>): Readonly<Record<string, unknown>>;
  /** Whether draft and full are the same, so that one will do. */
  readonly exact?: boolean;
  /** Whether it is drawn together with the lens while a number is turned, before other charts: it takes a few milliseconds. */
  readonly atOnce?: boolean;
  /** Whether an image at infinity is looked at in the focus of an ideal lens, its places told as angles: see `inFocus`. */
  readonly inAngle?: boolean;
}

/** Something that is seen of a scene; `of` tells it from those of lenses. */
export interface SceneAnalysis<S extends SettingSpecs = SettingSpecs> extends Omit<
  Analysis<S>,
  'evaluate' | 'atOnce' | 'inAngle' | 'exact'
> {
  readonly of: 'scene';
  /** Whether draft and full are the same. */
  readonly exact?: boolean;
  /** Pure; shares the rays traced with other analyses through the evaluation. */
  evaluate(
    scene: SceneEvaluation,
    settings: SettingValues<S>,
    detail: Detail,
  ): Generator<void, Outcome<Analysed>, void>;
}

/** Types an analysis of scenes by its settings. */
export function defineSceneAnalysis<const S extends SettingSpecs>(
  analysis: Omit<SceneAnalysis<S>, 'of'>,
): SceneAnalysis {
  return { ...analysis, of: 'scene' } as unknown as SceneAnalysis;
}

/** Whether it looks at a scene, not at a lens. */
export function looksAtScene(analysis: Analysis | SceneAnalysis): analysis is SceneAnalysis {
  return 'of' in analysis;
}

/** Types an analysis by its settings without naming the type twice. */
export function defineAnalysis<const S extends SettingSpecs>(analysis: Analysis<S>): Analysis {
  return analysis as unknown as Analysis;
}

/** The settings of an analysis as a project may hold them. Fails, with a reason, if any is not legal. */
export function analysisSettings(analysis: Analysis | SceneAnalysis, given: unknown): ReturnType<typeof readSettings> {
  const isObject = typeof given === 'object' && given !== null;
  return readSettings(analysis, isObject && analysis.older ? analysis.older({ ...given }) : given);
}

/** Without settings that are null, which stood for the choice of the analysis itself. */
export function withoutNulls(given: Readonly<Record<string, unknown>>): Record<string, unknown> {
  return Object.fromEntries(Object.entries(given).filter(([, value]) => value !== null));
}

/** Begins an analysis, its settings checked. */
export function* analyse(
  lens: LensEvaluation,
  analysis: Analysis,
  given: unknown,
  detail: Detail,
): Generator<void, Outcome<Analysed>, void> {
  const settings = analysisSettings(analysis, given);
  if (!settings.ok) return settings;
  const seen = analysis.inAngle ? lens.inFocus() : lens;
  const found = yield* analysis.evaluate(seen, settings.value, detail);
  return found.ok && seen !== lens ? success(toldInAngle(found.value)) : found;
}

export const ALL_FIELDS = { kind: 'field', title: 'Field', also: ['all'], fallback: 'all' } as const;
export const ONE_FIELD = { kind: 'field', title: 'Field', also: ['widest'], fallback: 'widest' } as const;
export const COLOURS = {
  kind: 'wavelength',
  title: 'Colour',
  also: ['all', 'primary'],
  fallback: 'all',
} as const;
export const ONE_COLOUR = {
  kind: 'wavelength',
  title: 'Colour',
  also: ['primary'],
  fallback: 'primary',
} as const;
export const PUPIL = {
  kind: 'choice',
  title: 'Pupil',
  options: ['full', 'clipped'],
  fallback: 'full',
  word: 'pupil',
} as const;

export const CLIPPED = { ...PUPIL, fallback: 'clipped' } as const;

/** The fields of a choice: one by its id, the one farthest from the axis, or all. */
export function fieldsOf(lens: LensEvaluation, choice: string): Outcome<readonly FieldPoint[]> {
  const { points } = lens.model.lens.fields;
  if (points.length === 0) return failure('No field point is given.');
  if (choice === 'all') return success(points);
  if (choice === 'widest')
    return success([
      points.reduce((far, point) => (Math.hypot(point.x, point.y) > Math.hypot(far.x, far.y) ? point : far)),
    ]);
  const field = lens.field(choice);
  return field.ok ? success([field.value]) : field;
}

/** The index of the wavelength of a choice; undefined for all by their weights. */
export function waveOf({ model }: LensEvaluation, choice: string): Outcome<number | undefined> {
  if (choice === 'all') return success(undefined);
  if (choice === 'primary' || choice === '') return success(model.primary);
  const wave = model.wavelengths.findIndex(({ id }) => id === choice);
  if (wave >= 0) return success(wave);
  return failure(`There is no wavelength “${choice}”; there are ${model.wavelengths.map(({ id }) => id).join(', ')}.`);
}

/** How the pupil is taken, in words. */
export function pupilWords(lens: LensEvaluation, pupil: string): string[] {
  const aim = lens.model.lens.pupil.aim === 'stop' ? 'aimed at the stop' : 'aimed at the entrance pupil';
  return [pupil === 'clipped' ? 'clipped by set apertures' : 'full pupil', aim];
}

/** The colour of a choice, in words. */
export function waveWords({ model }: LensEvaluation, wave: number | undefined): string {
  return wave === undefined ? 'all colours by weight' : wavelengthName(model.wavelengths[wave].nm);
}
