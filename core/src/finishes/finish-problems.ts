import { beyondTable, type Spectral } from '../light/spectral.ts';
import type { ParameterSpec } from '../math/parameter.ts';
import type { Finish } from './finish.ts';
import { SCATTER_KINDS } from './laws/registry.ts';
import { filmOf, layerSpecs } from './optics/coating.ts';
import type { FilmMedia } from './optics/optics.ts';
import { OPTICS_KINDS } from './optics/registry.ts';
import { splitSum } from './optics/split.ts';

/** What is wrong with a finish at some wavelengths, and what to do. */
export interface FinishProblem {
  readonly severity: 'error' | 'warning';
  readonly text: string;
}

/**
 * What a finish lacks at the wavelengths of a lens or scene.
 *
 * @param waves - in nm
 * @param media - what its films can be made of
 */
export function finishProblems(finish: Finish, waves: readonly number[], media: FilmMedia): readonly FinishProblem[] {
  return [...tooMuch(finish, waves), ...withoutIndex(finish, waves, media), ...beyond(finish, waves)];
}

const listed = (waves: readonly number[]) => waves.map((nm) => Number(nm.toPrecision(7))).join(', ');

/** A splitter that would make light. */
function tooMuch({ name, optics }: Finish, waves: readonly number[]): readonly FinishProblem[] {
  if (optics.kind !== 'split') return [];
  const over = waves.filter((nm) => splitSum(optics, nm) > 1);
  if (over.length === 0) return [];
  const most = Math.max(...over.map((nm) => splitSum(optics, nm)));
  return [
    {
      severity: 'error',
      text:
        `${name} reflects and transmits ${(100 * most).toFixed(1)} % together; both are reduced in proportion ` +
        'to 100 %. Give it shares that sum to 1 at most.',
    },
  ];
}

/** Films that are not known at a wavelength. */
function withoutIndex({ name, optics }: Finish, waves: readonly number[], media: FilmMedia): readonly FinishProblem[] {
  if (optics.kind !== 'coating') return [];
  return optics.layers.flatMap((layer, k): FinishProblem[] => {
    const missing = waves.filter((nm) => filmOf(layer, nm, media) === null);
    if (missing.length === 0) return [];
    const what = layer.material === undefined ? 'has no index' : `of “${layer.material}” has no index`;
    return [
      {
        severity: 'error',
        text:
          `Film ${k + 1} of ${name} ${what} at ${listed(missing)} nm: faces with it absorb all light there. ` +
          'Choose a material that covers these wavelengths, or give the film an index.',
      },
    ];
  });
}

/** Tables that end before a wavelength. */
function beyond({ name, optics, reflected, transmitted }: Finish, waves: readonly number[]): readonly FinishProblem[] {
  const holders: readonly (readonly [object | undefined, readonly ParameterSpec[], string])[] = [
    [optics, OPTICS_KINDS.of(optics.kind).parameters, ''],
    [reflected, reflected ? SCATTER_KINDS.of(reflected.kind).parameters : [], ' of reflected light'],
    [transmitted, transmitted ? SCATTER_KINDS.of(transmitted.kind).parameters : [], ' of transmitted light'],
    ...(optics.kind === 'coating'
      ? optics.layers.map((layer, k) => [layer, layerSpecs(layer), ` of film ${k + 1}`] as const)
      : []),
  ];
  return holders.flatMap(([holder, specs, of]) =>
    specs.flatMap(({ id, title, spectral }): FinishProblem[] => {
      const value = (holder as Readonly<Record<string, Spectral | undefined>>)[id];
      const text = spectral && value !== undefined ? beyondTable(value, waves) : null;
      return text === null ? [] : [{ severity: 'warning', text: `${title}${of}, ${name}, ${text}` }];
    }),
  );
}
