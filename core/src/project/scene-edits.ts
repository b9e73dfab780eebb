import type { MeshRecord } from '../bodies/mesh-record.ts';
import { bodyDefinition, type OwnBody } from '../bodies/registry.ts';
import { PLACE_KINDS } from '../detectors/registry.ts';
import type { Finish } from '../finishes/finish.ts';
import { AIR } from '../materials/material.ts';
import type { Combination } from '../bodies/trimmed-face.ts';
import type { Edit } from './edit.ts';
import { takeInFinish } from './finish-edits.ts';
import type { Project } from './model.ts';
import { SAMPLING, type Body, type Detector, type Part, type Placed, type Scene, type Source } from './scene.ts';

/** What of a scene is chosen: a part, a source or a detector. */
export type SceneKind = 'parts' | 'sources' | 'detectors';

/** A gesture on a scene: its edits, what the history calls it, and what to look at afterwards. */
export interface SceneGesture {
  readonly edits: readonly Edit[];
  readonly label: string;
  readonly focus: { readonly kind: SceneKind; readonly id: string } | null;
}

const at = (scene: Scene, kind: SceneKind) => `scenes.${scene.id}.${kind}`;

/** How a thing of a scene is called on screen. */
export function thingTitle(thing: { readonly id: string; readonly name?: string | undefined }): string {
  return thing.name || thing.id.replaceAll('_', ' ');
}

/** What light can be aimed at: parts with faces, and detectors that stand free. */
export function aimTargets({ parts, detectors }: Scene): readonly (Part | Detector)[] {
  return [
    ...parts.filter(({ body, excluded }) => body.kind !== 'group' && !excluded),
    ...detectors.filter(({ on, excluded }) => PLACE_KINDS.find(on.kind)?.face && !excluded),
  ];
}

/** An id that nothing in a scene has, made of a word. */
export function freshThingId(scene: Scene, word: string): string {
  const taken = new Set([...scene.parts, ...scene.sources, ...scene.detectors].map(({ id }) => id));
  if (!taken.has(word)) return word;
  for (let n = 2; ; n++) if (!taken.has(`${word}_${n}`)) return `${word}_${n}`;
}

/** Adds a body behind the thing that is chosen; clear ones of the first glass of the project, sheets black. */
export function addBody(project: Project, scene: Scene, kind: OwnBody['kind'], after: string | null): SceneGesture {
  const definition = bodyDefinition(kind)!;
  const id = freshThingId(scene, kind);
  const glass = project.materials.find(({ family }) => family !== 'gas')?.id;
  const body = definition.first;
  const part: Part = {
    id,
    body,
    ...(definition.solid && glass && !definition.finish
      ? { material: glass }
      : { finish: definition.finish ?? 'absorber' }),
  };
  return insertion(scene, 'parts', part, after, `Add ${definition.title.toLowerCase()}`);
}

/** Places a lens of the project. */
export function addLens(
  scene: Scene,
  lens: { readonly id: string; readonly name: string },
  after: string | null,
): SceneGesture {
  const part: Part = {
    id: freshThingId(scene, lens.id),
    name: lens.name,
    body: { kind: 'lens', lens: lens.id },
  };
  return insertion(scene, 'parts', part, after, `Place ${lens.name}`);
}

/** Adds a mesh to the project, and a body made of it: black, until a material or a finish is chosen. */
export function addMesh(project: Project, scene: Scene, mesh: MeshRecord, after: string | null): SceneGesture {
  const meshes = project.meshes ?? [];
  let id = 'mesh';
  for (let n = 2; meshes.some((one) => one.id === id); n++) id = `mesh_${n}`;
  const part: Part = {
    id: freshThingId(scene, id),
    name: mesh.name,
    body: { kind: 'mesh', mesh: id },
    finish: 'absorber',
  };
  const gesture = insertion(scene, 'parts', part, after, `Take in ${mesh.name}`);
  const edit: Edit = { kind: 'set', path: 'meshes', value: [...meshes, { ...mesh, id }] };
  return { ...gesture, edits: [edit, ...gesture.edits] };
}

/** Makes one body of two parts, which it takes its look from the first of; they stay in the list as what it is made of. */
export function combine(scene: Scene, operation: Combination, first: Part, second: Part): SceneGesture {
  const { material, finish } = first;
  const part: Part = {
    id: freshThingId(scene, 'combination'),
    body: { kind: 'combined', operation, first: first.id, second: second.id },
    ...(material !== undefined && { material }),
    ...(finish !== undefined && { finish }),
  };
  return insertion(scene, 'parts', part, second.id, `Combine ${thingTitle(first)} and ${thingTitle(second)}`);
}

/** Adds a frame for other parts to stand in. */
export function addGroup(scene: Scene, after: string | null): SceneGesture {
  return insertion(scene, 'parts', { id: freshThingId(scene, 'group'), body: { kind: 'group' } }, after, 'Add group');
}

/** Adds a part that stays the same as another one, mirrored where wanted, a little beside it. */
export function addCopy(scene: Scene, of: Part, mirrored?: 'x' | 'y' | 'z'): SceneGesture {
  const id = freshThingId(scene, `${of.id}_copy`);
  const body: Body = { kind: 'copy', of: of.id, ...(mirrored && { mirrored }) };
  const frame = { ...of.frame, dx: (of.frame?.dx ?? 0) + (mirrored ? 0 : 10) };
  const part: Part = { id, body, frame, ...(of.within !== undefined && { within: of.within }) };
  return insertion(scene, 'parts', part, of.id, `Copy ${thingTitle(of)}`);
}

/** Adds a source: a small Lambertian disc that shines along z. */
export function addSource(scene: Scene, nm: number): SceneGesture {
  const source: Source = {
    id: freshThingId(scene, 'source'),
    flux: 1,
    unit: 'W',
    light: [{ nm, weight: 1 }],
    region: { kind: 'disc', radius: 1 },
    law: { kind: 'lambertian', half: 90 },
  };
  return insertion(scene, 'sources', source, null, 'Add source');
}

/** Adds a detector on a face, or free where no face is named. */
export function addDetector(scene: Scene, face: { readonly part: string; readonly face: string } | null): SceneGesture {
  const detector: Detector = {
    id: freshThingId(scene, 'detector'),
    on: face ? { kind: 'face', ...face } : { kind: 'rectangle', width: 20, height: 20 },
    columns: 50,
    rows: 50,
    counts: 'incident',
    light: 'radiometric',
  };
  return insertion(scene, 'detectors', detector, null, 'Add detector');
}

function insertion(
  scene: Scene,
  kind: SceneKind,
  item: Part | Source | Detector,
  after: string | null,
  label: string,
): SceneGesture {
  const list: readonly { readonly id: string }[] = scene[kind];
  const last = list.at(-1)?.id ?? null;
  const behind = after !== null && list.some(({ id }) => id === after) ? after : last;
  return {
    edits: [{ kind: 'insert', list: at(scene, kind), after: behind, item }],
    label,
    focus: { kind, id: item.id },
  };
}

/**
 * Removes a thing, with what would be left without it: detectors and sources on its faces, copies of it. What stood in it stays where
 * the frames around say.
 */
export function removeThing(scene: Scene, kind: SceneKind, id: string): SceneGesture {
  const thing = (scene[kind] as readonly (Placed & { readonly id: string; readonly name?: string })[]).find(
    (one) => one.id === id,
  );
  const edits: Edit[] = [];
  if (kind === 'parts') {
    for (const part of scene.parts)
      if (part.id !== id && madeOf(part, id)) edits.push({ kind: 'remove', list: at(scene, 'parts'), id: part.id });
    for (const list of ['parts', 'sources', 'detectors'] as const)
      for (const one of scene[list] as readonly (Placed & { readonly id: string })[])
        if (one.within === id)
          edits.push({ kind: 'set', path: `${at(scene, list)}.${one.id}.within`, value: thing?.within });
    for (const detector of scene.detectors)
      if (detector.on.kind === 'face' && detector.on.part === id)
        edits.push({ kind: 'remove', list: at(scene, 'detectors'), id: detector.id });
    for (const source of scene.sources)
      if (source.region.kind === 'face' && source.region.part === id)
        edits.push({ kind: 'remove', list: at(scene, 'sources'), id: source.id });
  }
  for (const source of scene.sources)
    if (source.aim === id)
      edits.push({ kind: 'set', path: `${at(scene, 'sources')}.${source.id}.aim`, value: undefined });
  const { aims } = scene.sampling;
  if (aims?.includes(id)) {
    const left = aims.filter((aim) => aim !== id);
    edits.push({
      kind: 'set',
      path: `scenes.${scene.id}.sampling.aims`,
      value: left.length > 0 ? left : undefined,
    });
  }
  // What was taken out already cannot be changed any more.
  const gone = new Set(edits.flatMap((edit) => (edit.kind === 'remove' ? [edit.id] : [])));
  const kept = edits.filter(
    (edit) =>
      edit.kind === 'remove' ||
      ![...gone].some(
        (one) => edit.kind === 'set' && /\.(within|aim)$/.test(edit.path) && edit.path.split('.').at(-2) === one,
      ),
  );
  const list: readonly { readonly id: string }[] = scene[kind];
  const index = list.findIndex((one) => one.id === id);
  const next = list[index + 1] ?? list[index - 1];
  return {
    edits: [...kept, { kind: 'remove', list: at(scene, kind), id }],
    label: `Remove ${thing ? thingTitle(thing) : id}`,
    focus: next && !gone.has(next.id) ? { kind, id: next.id } : null,
  };
}

/** Whether a part is nothing without another: a copy of it, or a combination with it. */
function madeOf({ body }: Part, id: string): boolean {
  return (
    (body.kind === 'copy' && body.of === id) || (body.kind === 'combined' && (body.first === id || body.second === id))
  );
}

/** Takes a thing out without deleting it, or in again. */
export function setExcluded(scene: Scene, kind: SceneKind, id: string, excluded: boolean): SceneGesture {
  return {
    edits: [{ kind: 'set', path: `${at(scene, kind)}.${id}.excluded`, value: excluded || undefined }],
    label: `${excluded ? 'Exclude' : 'Include'} ${id}`,
    focus: { kind, id },
  };
}

/** Any other change of a thing: a value at a key of it; undefined takes the key away. */
export function setOf(
  scene: Scene,
  kind: SceneKind,
  id: string,
  key: string,
  value: unknown,
  label: string,
): SceneGesture {
  return {
    edits: [{ kind: 'set', path: `${at(scene, kind)}.${id}.${key}`, value }],
    label,
    focus: { kind, id },
  };
}

/** Faces that a finish goes to: of one part by their names, or all of it for null. */
export interface FaceChoice {
  readonly part: string;
  readonly faces: readonly string[] | null;
}

/** Gives faces a finish, taking its record into the project where it is not there yet; null for what the body has by itself. */
export function setFinish(
  project: Project,
  scene: Scene,
  choices: readonly FaceChoice[],
  finish: Finish | null,
): SceneGesture {
  const edits: Edit[] = [...takeInFinish(project, finish)];
  for (const { part: id, faces } of choices) {
    const part = scene.parts.find((one) => one.id === id);
    if (!part) continue;
    const path = `${at(scene, 'parts')}.${id}`;
    if (faces === null) {
      edits.push({ kind: 'set', path: `${path}.finish`, value: finish?.id });
      if (part.faces) edits.push({ kind: 'set', path: `${path}.faces`, value: undefined });
      continue;
    }
    const others = Object.entries(part.faces ?? {}).filter(([face]) => !faces.includes(face));
    const given = finish ? faces.map((face) => [face, { finish: finish.id }] as const) : [];
    const next = Object.fromEntries([...others, ...given]);
    edits.push({
      kind: 'set',
      path: `${path}.faces`,
      value: Object.keys(next).length > 0 ? next : undefined,
    });
  }
  const first = choices[0];
  return {
    edits,
    label: finish ? `Finish ${finish.name}` : 'Finish of the body itself',
    focus: first ? { kind: 'parts', id: first.part } : null,
  };
}

/** A scene of nothing, for a project that has none. */
export function addScene(project: Project): readonly Edit[] {
  const scene: Scene = {
    id: 'scene',
    name: 'Scene',
    medium: AIR.id,
    parts: project.lenses.map(({ id, name }) => ({ id, name, body: { kind: 'lens', lens: id } })),
    sources: [],
    detectors: [],
    sampling: SAMPLING,
  };
  const medium: readonly Edit[] = project.materials.some(({ id }) => id === AIR.id)
    ? []
    : [{ kind: 'insert', list: 'materials', after: null, item: AIR }];
  return [...medium, { kind: 'set', path: 'scenes', value: [...(project.scenes ?? []), scene] }];
}
