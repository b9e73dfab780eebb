import type { Finish } from '../finishes/finish.ts';
import { applyEdits, type Edit } from './edit.ts';
import type { Project } from './model.ts';
import type { Part, Scene } from './scene.ts';
import { freshThingId, removeThing, setFinish, type SceneGesture } from './scene-edits.ts';

const named = (count: number) => `${count} parts`;
const first = (ids: readonly string[]) => ({ kind: 'parts', id: ids[0] }) as const;

/** Parts that may have a material of their own: not frames, and not lenses, which have those of the prescription. */
export function takesMaterial({ body }: Part): boolean {
  return body.kind !== 'group' && body.kind !== 'lens';
}

/** Sets one thing of several parts: whether they are excluded, or their material. */
export function setParts(
  scene: Scene,
  ids: readonly string[],
  key: 'excluded' | 'material',
  value: string | true | undefined,
): SceneGesture {
  const meant = scene.parts.filter((part) => ids.includes(part.id) && (key === 'excluded' || takesMaterial(part)));
  const what = key === 'material' ? 'Material of' : value ? 'Exclude' : 'Include';
  return {
    edits: meant.map(({ id }) => ({ kind: 'set', path: `scenes.${scene.id}.parts.${id}.${key}`, value })),
    label: `${what} ${named(meant.length)}`,
    focus: first(ids),
  };
}

/** Gives all faces of several parts a finish; null for what their bodies have by themselves. */
export function setPartsFinish(
  project: Project,
  scene: Scene,
  ids: readonly string[],
  finish: Finish | null,
): SceneGesture {
  const choices = ids.map((part) => ({ part, faces: null }));
  const { edits, label } = setFinish(project, scene, choices, finish);
  return { edits, label: `${label} on ${named(ids.length)}`, focus: first(ids) };
}

/** Removes several parts with what would be left without them, as `removeThing` does one by one. */
export function removeParts(project: Project, scene: Scene, ids: readonly string[]): SceneGesture {
  const edits: Edit[] = [];
  let [now, at] = [project, scene];
  for (const id of ids) {
    if (!at.parts.some((part) => part.id === id)) continue; // it went with another one
    const { edits: more } = removeThing(at, 'parts', id);
    edits.push(...more);
    now = applyEdits(now, more).project;
    at = now.scenes!.find((one) => one.id === scene.id)!;
  }
  return { edits, label: `Remove ${named(ids.length)}`, focus: null };
}

/**
 * Puts several parts into a new group, which is a frame at rest: none of them moves. Parts that stand in others of them stay there. Null if
 * the rest do not stand in one frame, in which a group could be.
 */
export function groupParts(scene: Scene, ids: readonly string[]): SceneGesture | null {
  const heads = scene.parts.filter(({ id, within }) => ids.includes(id) && !(within && ids.includes(within)));
  const frames = new Set(heads.map(({ within }) => within));
  if (heads.length === 0 || frames.size > 1) return null;
  const [within] = frames;
  const item: Part = {
    id: freshThingId(scene, 'group'),
    body: { kind: 'group' },
    ...(within !== undefined && { within }),
  };
  const list = `scenes.${scene.id}.parts`;
  const index = scene.parts.indexOf(heads[0]);
  return {
    edits: [
      { kind: 'insert', list, after: scene.parts[index - 1]?.id ?? null, item },
      ...heads.map(({ id }): Edit => ({ kind: 'set', path: `${list}.${id}.within`, value: item.id })),
    ],
    label: `Group ${named(ids.length)}`,
    focus: { kind: 'parts', id: item.id },
  };
}
