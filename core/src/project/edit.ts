import type { Project } from './model.ts';

/** Any JSON value, as far as edits are concerned. */
export type Json = unknown;

/**
 * The closed set of changes a project can undergo. Paths are keys and ids joined by points:
 * `lenses.tide.surfaces.l2_front.shape.radius`; entries of lists are named by id.
 */
export type Edit =
  /** Puts a value at a key; `undefined` removes the key. */
  | { readonly kind: 'set'; readonly path: string; readonly value: Json }
  /** Puts a new entry into a list, behind the entry `after`, or first for null. */
  | {
      readonly kind: 'insert';
      readonly list: string;
      readonly after: string | null;
      readonly item: { readonly id: string };
    }
  | { readonly kind: 'remove'; readonly list: string; readonly id: string }
  /** Moves an entry of a list behind the entry `after`, or to the front for null. */
  | { readonly kind: 'move'; readonly list: string; readonly id: string; readonly after: string | null };

/** An edit names something the project does not have. A mistake of the caller, never of the user. */
export class EditError extends Error {}

interface Entry {
  readonly id: string;
}

/**
 * Applies one edit and returns the next project with the edit that takes it back. Nothing is mutated; what the edit
 * does not touch is shared with the project before.
 *
 * @throws EditError when a path or id does not exist, or an inserted id is there already
 */
export function applyEdit(project: Project, edit: Edit): { project: Project; inverse: Edit } {
  switch (edit.kind) {
    case 'set': {
      const parts = edit.path.split('.');
      const key = parts.pop()!;
      let before: Json;
      const next = update(project, parts, edit.path, (target) => {
        if (Array.isArray(target)) {
          const index = indexOf(target as Entry[], key, edit.path);
          before = target[index];
          if ((edit.value as Entry | undefined)?.id !== key) throw new EditError(`${edit.path}: a set keeps the id`);
          return target.with(index, edit.value);
        }
        before = (target as Record<string, Json>)[key];
        const { [key]: _removed, ...rest } = target as Record<string, Json>;
        if (edit.value === undefined) return rest;
        return { ...(target as object), [key]: edit.value };
      });
      return { project: next, inverse: { kind: 'set', path: edit.path, value: before } };
    }
    case 'insert': {
      const next = updateList(project, edit.list, (entries) => {
        if (entries.some((entry) => entry.id === edit.item.id)) {
          throw new EditError(`${edit.list}: ${edit.item.id} is there already`);
        }
        return entries.toSpliced(placeBehind(entries, edit.after, edit.list), 0, edit.item);
      });
      return { project: next, inverse: { kind: 'remove', list: edit.list, id: edit.item.id } };
    }
    case 'remove': {
      let inverse: Edit | undefined;
      const next = updateList(project, edit.list, (entries) => {
        const index = indexOf(entries, edit.id, edit.list);
        inverse = {
          kind: 'insert',
          list: edit.list,
          after: entries[index - 1]?.id ?? null,
          item: entries[index],
        };
        return entries.toSpliced(index, 1);
      });
      return { project: next, inverse: inverse! };
    }
    case 'move': {
      let inverse: Edit | undefined;
      const next = updateList(project, edit.list, (entries) => {
        const index = indexOf(entries, edit.id, edit.list);
        inverse = { kind: 'move', list: edit.list, id: edit.id, after: entries[index - 1]?.id ?? null };
        const rest = entries.toSpliced(index, 1);
        return rest.toSpliced(placeBehind(rest, edit.after, edit.list), 0, entries[index]);
      });
      return { project: next, inverse: inverse! };
    }
  }
}

/** Applies edits one after another; `inverse` takes all of them back, in the order in which it must be applied. */
export function applyEdits(project: Project, edits: readonly Edit[]): { project: Project; inverse: Edit[] } {
  const inverse: Edit[] = [];
  let next = project;
  for (const edit of edits) {
    const done = applyEdit(next, edit);
    next = done.project;
    inverse.unshift(done.inverse);
  }
  return { project: next, inverse };
}

/** The value at a path of keys and ids, or undefined where there is none. */
export function valueAt(root: Json, path: string): Json {
  let here: Json = root;
  for (const part of path === '' ? [] : path.split('.')) {
    if (Array.isArray(here)) here = (here as Entry[]).find((entry) => entry?.id === part);
    else if (typeof here === 'object' && here !== null && Object.hasOwn(here, part)) {
      here = (here as Record<string, Json>)[part];
    } else return undefined;
  }
  return here;
}

function update(root: Project, parts: readonly string[], path: string, change: (target: Json) => Json): Project {
  const walk = (here: Json, depth: number): Json => {
    if (typeof here !== 'object' || here === null)
      throw new EditError(`${path}: there is nothing at ${parts[depth - 1]}`);
    if (depth === parts.length) return change(here);
    const part = parts[depth];
    if (Array.isArray(here)) {
      const index = indexOf(here as Entry[], part, path);
      return here.with(index, walk(here[index], depth + 1));
    }
    if (!Object.hasOwn(here, part)) throw new EditError(`${path}: there is no ${part}`);
    return { ...here, [part]: walk((here as Record<string, Json>)[part], depth + 1) };
  };
  return walk(root, 0) as Project;
}

function updateList(root: Project, list: string, change: (entries: readonly Entry[]) => readonly Entry[]): Project {
  return update(root, list.split('.'), list, (target) => {
    if (!Array.isArray(target)) throw new EditError(`${list} is not a list`);
    return change(target as Entry[]);
  });
}

function indexOf(entries: readonly Entry[], id: string, path: string): number {
  const index = entries.findIndex((entry) => entry.id === id);
  if (index < 0) throw new EditError(`${path}: there is no ${id}`);
  return index;
}

function placeBehind(entries: readonly Entry[], after: string | null, list: string): number {
  return after === null ? 0 : indexOf(entries, after, list) + 1;
}
