import { Evaluation } from '../imaging/evaluation/evaluation.ts';
import { failure, success, type Outcome } from '../math/outcome.ts';
import { findMeasure } from '../measures/registry.ts';
import type { Edit } from '../project/edit.ts';
import type { Lens, ParameterState, ParameterStates, Project, Surface } from '../project/model.ts';
import { listParameters, setParameter } from '../project/parameters.ts';
import { splitStateAddress } from '../project/states.ts';
import { defineOperation, type Operated, type OperationSubject } from './operation.ts';
import { OPERATION_TITLES } from './titles.ts';

/** To which power of a length a unit goes; 0 for angles and pure numbers. */
export function lengthPower(unit: string): number {
  if (unit === 'mm') return 1;
  if (unit === '1/mm') return -1;
  const power = /^mm\^(-?\d+)$/.exec(unit);
  return power ? Number(power[1]) : 0;
}

/** All edits that make a lens larger by a factor: every length in it, and what is per length. Wavelengths and angles stay. */
export function scaleEdits(project: Project, lens: Lens, factor: number): Outcome<Edit[]> {
  const inLens = `lenses.${lens.id}.`;
  const edits: Edit[] = [];
  const powers = new Map<string, number>();
  for (const parameter of listParameters(project)) {
    // What differs in states grows along.
    const address = splitStateAddress(parameter.address)?.address ?? parameter.address;
    if (!address.startsWith(inLens)) continue;
    const power = lengthPower(parameter.spec.unit);
    if (power === 0) continue;
    powers.set(parameter.address, power);
    if (!Number.isFinite(parameter.value) || parameter.value === 0) continue;
    const edit = setParameter(parameter, parameter.value * factor ** power);
    if (!edit.ok) return failure(`${parameter.address}: ${edit.reason}`);
    edits.push(edit.value);
  }
  for (const surface of lens.surfaces) edits.push(...listedEdits(`${inLens}surfaces.${surface.id}`, surface, factor));
  const states = scaledBounds(project.parameters, powers, factor);
  if (states) edits.push({ kind: 'set', path: 'parameters', value: states });
  return success(edits);
}

/** Lengths that are no parameters: sampled sags and corners. */
function listedEdits(path: string, { shape, aperture, obscurations }: Surface, factor: number): Edit[] {
  const edits: Edit[] = [];
  if (shape.kind === 'sampled_sag' && shape.grid) {
    const { x, y, dx, dy, columns, z } = shape.grid;
    const value = {
      x: x * factor,
      y: y * factor,
      dx: dx * factor,
      dy: dy * factor,
      columns,
      z: z.map((sag) => sag * factor),
    };
    edits.push({ kind: 'set', path: `${path}.shape.grid`, value });
  }
  const corners = (at: string, area: object) => {
    const { points } = area as { points?: readonly (readonly number[])[] };
    if (points)
      edits.push({
        kind: 'set',
        path: `${at}.points`,
        value: points.map((point) => point.map((part) => part * factor)),
      });
  };
  corners(`${path}.aperture`, aperture);
  for (const one of obscurations ?? []) corners(`${path}.obscurations.${one.id}`, one);
  return edits;
}

/** Bounds of free lengths grow along; undefined where there are none. */
function scaledBounds(
  states: ParameterStates | undefined,
  powers: ReadonlyMap<string, number>,
  factor: number,
): ParameterStates | undefined {
  if (!states) return undefined;
  let changed = false;
  const scaled = Object.entries(states).map(([address, state]): [string, ParameterState] => {
    const power = powers.get(address);
    if (state.kind !== 'free' || power === undefined || (state.min === undefined && state.max === undefined))
      return [address, state];
    changed = true;
    const by = factor ** power;
    return [
      address,
      {
        ...state,
        ...(state.min !== undefined && { min: state.min * by }),
        ...(state.max !== undefined && { max: state.max * by }),
      },
    ];
  });
  return changed ? Object.fromEntries(scaled) : undefined;
}

/**
 * Edits that let what is wanted of a lens grow along: limits and targets of its requirements and goals that are lengths, and frequencies at
 * which its MTF is a goal.
 */
export function scaledWishes({ requirements, goals = [] }: Project, lens: string, factor: number): Edit[] {
  const scaledOnes = <W extends { readonly target?: number; readonly min?: number; readonly max?: number }>(
    wish: W,
    measure: string,
  ): W => {
    const unit = findMeasure(measure)?.unit ?? '';
    const power = unit === 'µm' ? 1 : lengthPower(unit);
    if (power === 0) return wish;
    const grown = Object.fromEntries(
      (['target', 'min', 'max'] as const).flatMap((key) =>
        wish[key] === undefined ? [] : [[key, Number((wish[key] * factor ** power).toPrecision(6))]],
      ),
    );
    return { ...wish, ...grown };
  };
  return [
    ...requirements.flatMap((one): Edit[] =>
      one.lens === lens ? [{ kind: 'set', path: `requirements.${one.id}`, value: scaledOnes(one, one.measure) }] : [],
    ),
    ...goals.flatMap((goal): Edit[] =>
      goal.kind === 'measure' && goal.of === lens
        ? [{ kind: 'set', path: `goals.${goal.id}`, value: scaledOnes(goal, goal.measure) }]
        : [],
    ),
    ...goals.flatMap((goal): Edit[] =>
      goal.kind === 'image_quality' && goal.of === lens && goal.frequency !== undefined
        ? [
            {
              kind: 'set',
              path: `goals.${goal.id}`,
              value: { ...goal, frequency: Number((goal.frequency / factor).toPrecision(6)) },
            },
          ]
        : [],
    ),
  ];
}

function scaled({ base, lens: { id } }: OperationSubject, factor: number, notes: readonly string[]): Outcome<Operated> {
  const lens = base.lenses.find((one) => one.id === id)!;
  const edits = scaleEdits(base, lens, factor);
  if (!edits.ok) return edits;
  const told = Number(factor.toPrecision(6));
  const kept = Object.values(base.parameters ?? {}).some(({ kind }) => kind !== 'free');
  return success({
    edits: edits.value,
    ofDesign: true,
    label: `Scale by ${told}`,
    notes: [...notes, ...(kept ? ['Lengths written in links and conditions stay as they are.'] : [])],
  });
}

export const scaleByFactor = defineOperation({
  id: 'scale',
  title: OPERATION_TITLES.scale,
  meaning:
    'Makes every length of the lens larger or smaller: radii, thicknesses, apertures, object distance and ' +
    'field heights, coefficients by their units. Angles, F-number and wavelengths stay, so aberrations in ' +
    'mm grow along and those in waves do too.',
  on: 'lens',
  settings: { factor: { kind: 'number', title: 'Factor', unit: '', min: 1e-6, max: 1e6, fallback: 1 } },
  run: (subject, { factor }) => scaled(subject, factor, [`every length × ${Number(factor.toPrecision(6))}`]),
});

export const scaleToFocalLength = defineOperation({
  id: 'scale_to_focal_length',
  title: OPERATION_TITLES.scale_to_focal_length,
  meaning:
    'Scales the whole lens so that its effective focal length is the one that is asked for, such as one ' +
    'that was measured. The sign stays: a negative lens keeps diverging.',
  on: 'lens',
  settings: {
    focal_length: { kind: 'number', title: 'Focal length', unit: 'mm', min: 1e-6, max: 1e9, fallback: 100 },
  },
  run(subject, { focal_length: wanted }) {
    const lens = new Evaluation(subject.project).lens(subject.lens.id);
    if (!lens.ok) return lens;
    const primary = lens.value.primary();
    if (!primary.ok) return primary;
    const now = Math.abs(primary.value.focalLength);
    if (!Number.isFinite(now)) return failure('The lens is afocal: it has no focal length to scale to.');
    const told = (value: number) => Number(value.toPrecision(7));
    return scaled(subject, wanted / now, [`focal length ${told(now)} → ${told(wanted)} mm`]);
  },
});
