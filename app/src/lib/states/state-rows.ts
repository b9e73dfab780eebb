import {
  applyEdits,
  differIn,
  findParameter,
  overridablePath,
  redirected,
  setMedium,
  sameIn,
  setInState,
  splitStateAddress,
  success,
  surfaceTitle,
  type Edit,
  type Outcome,
  type Override,
  type Project,
} from '@ulvex/core';
import { numberTitle } from '../desk/number-state.ts';

/** A number or glass that differs in some state: what it is in the design and, state by state, in those where it differs. */
export interface StateRow {
  readonly address: string;
  readonly title: string;
  readonly unit: string;
  /** Whether it is the medium after it a surface. */
  readonly glass: boolean;
  readonly overrides: ReadonlyMap<string, Override>;
}

/** Everything in which any state differs from the design, in the order in which it came. */
export function stateRows(project: Project): readonly StateRow[] {
  const rows = new Map<string, Map<string, Override>>();
  for (const { id, overrides } of project.states ?? [])
    for (const override of overrides) {
      const row = rows.get(override.address) ?? new Map<string, Override>();
      rows.set(override.address, row.set(id, override));
    }
  return [...rows].map(([address, overrides]) => {
    const parameter = findParameter(project, address);
    const unit = parameter.ok ? parameter.value.spec.unit : '';
    return { address, title: rowTitle(project, address), unit, glass: isGlass(address), overrides };
  });
}

export const isGlass = (address: string) => address.endsWith('.material');

/** What a row is called: the surface and the number, or the glass after it. */
export function rowTitle(project: Project, address: string): string {
  if (!isGlass(address)) return numberTitle(project, address);
  const [, lensId, , id] = address.split('.');
  const lens = project.lenses.find((one) => one.id === lensId);
  const index = lens?.surfaces.findIndex((surface) => surface.id === id) ?? -1;
  return lens && index >= 0 ? `${lens.surfaces[index].after?.name ?? surfaceTitle(lens, index)} glass` : address;
}

/** Addresses of the glasses of a project: what lies behind surfaces and is solid in any sense of the word. */
export function glassAddresses(project: Project): readonly string[] {
  return project.lenses.flatMap((lens) =>
    lens.surfaces.flatMap(({ id, after }) =>
      after?.name === undefined ? [] : [`lenses.${lens.id}.surfaces.${id}.material`],
    ),
  );
}

/** The edits that give a medium what was typed, in one state alone. */
export function glassInState(project: Project, state: string, address: string, text: string): Outcome<readonly Edit[]> {
  const differs = differIn(project, state, address);
  if (!differs.ok) return differs;
  const different = applyEdits(project, differs.value.edits).project;
  const [, lensId, , surface] = address.split('.');
  const lens = project.lenses.find(({ id }) => id === lensId)!;
  const medium = setMedium(different, lens, surface, text);
  if (!medium.ok) return medium;
  return success([...differs.value.edits, ...redirected(different, state, medium.value.edits)]);
}

/** The edits for what was typed into a number's cell of a state; nothing typed makes it what it is in the design. */
export function numberInState(
  project: Project,
  state: string,
  address: string,
  value: number | null,
): Outcome<readonly Edit[]> {
  const gesture = value === null ? sameIn(project, state, address) : setInState(project, state, address, value);
  return gesture.ok ? success(gesture.value.edits) : gesture;
}

/** What can still be made to differ: titles with their addresses, numbers and glasses. */
export function differable(
  project: Project,
  addresses: readonly string[],
): readonly { readonly title: string; readonly address: string }[] {
  return [...addresses, ...glassAddresses(project)].flatMap((address) =>
    splitStateAddress(address) || overridablePath(project, address) === null
      ? []
      : [{ title: rowTitle(project, address), address }],
  );
}
