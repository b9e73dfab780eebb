import {
  findMeasure,
  findParameter,
  splitStateAddress,
  surfaceTitle,
  type ParameterState,
  type Project,
} from '@ulvex/core';

/** The mark of a number that is not fixed. */
export const MARKS: Readonly<Record<ParameterState['kind'], string>> = {
  free: '◇',
  linked: '⚯',
  derived: '∴',
};

/** What a number follows from, or how far it may go, in words. */
export function stateWords(project: Project, state: ParameterState): string {
  switch (state.kind) {
    case 'free': {
      const { min, max } = state;
      if (min === undefined && max === undefined) return 'free';
      if (max === undefined) return `free, at least ${min}`;
      return min === undefined ? `free, at most ${max}` : `free, from ${min} to ${max}`;
    }
    case 'linked':
      return `linked: = ${readable(project, state.formula)}`;
    case 'derived': {
      const title = findMeasure(state.measure)?.title ?? state.measure;
      const choices = Object.values(state.settings).join(', ');
      return `derived, so that ${title}${choices ? ` [${surfaceNames(project, choices)}]` : ''} = ${readable(project, state.equals)}`;
    }
  }
}

/** A stored formula with surfaces by their names: `−1 * “L1 front” radius` for `-1 * lenses.tide.surfaces.l1_front.radius`. */
export function readable(project: Project, formula: string): string {
  return formula
    .replace(/lenses\.(\w+)\.surfaces\.(\w+)\.([\w.]+)/g, (whole, lensId: string, id: string, rest: string) => {
      const lens = project.lenses.find((one) => one.id === lensId);
      const index = lens?.surfaces.findIndex((surface) => surface.id === id) ?? -1;
      return lens && index >= 0 ? `${surfaceTitle(lens, index)} ${rest.replace('_', ' ')}` : whole;
    })
    .replace(/\b[a-z]+_[a-z_]+\b/g, (id) => findMeasure(id)?.title ?? id)
    .replace(/(^|[+*/(] ?)- ?/g, '$1−')
    .replace(/ - /g, ' − ')
    .replace(/ \* /g, ' × ');
}

function surfaceNames(project: Project, text: string): string {
  return text
    .split(', ')
    .map((word) => {
      const lens = project.lenses.find(({ surfaces }) => surfaces.some(({ id }) => id === word));
      return lens
        ? surfaceTitle(
            lens,
            lens.surfaces.findIndex(({ id }) => id === word),
          )
        : word;
    })
    .join(', ');
}

/** Why a number cannot be typed over; null for those that can. */
export function heldWords(project: Project, address: string | undefined): string | null {
  const state = address === undefined ? undefined : project.parameters?.[address];
  if (!state || state.kind === 'free') return null;
  return `This number is ${stateWords(project, state)}. Make it fixed first.`;
}

/** What a number is called: the title of its surface and its own. */
export function numberTitle(project: Project, address: string): string {
  const split = splitStateAddress(address);
  if (split) {
    const state = project.states?.find(({ id }) => id === split.state)?.name ?? split.state;
    return `${numberTitle(project, split.address)} in ${state}`;
  }
  const name = readable(project, address);
  if (name !== address) return name;
  const [root, of, list, id, ...rest] = address.split('.');
  const scene = root === 'scenes' ? project.scenes?.find((one) => one.id === of) : undefined;
  const things = { parts: scene?.parts, sources: scene?.sources, detectors: scene?.detectors }[list] ?? [];
  const thing = things.find((one) => one.id === id);
  if (!thing) return address.split('.').slice(-2).join(' ');
  // Numbers of a place go by their symbols, dz or tx; all others by their titles.
  const found = rest[0] === 'frame' ? null : findParameter(project, address);
  const word = found?.ok ? found.value.spec.title.toLowerCase() : rest.filter((one) => one !== 'frame').join(' ');
  return `${thing.name ?? thing.id} ${word}`;
}
