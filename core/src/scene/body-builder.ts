import type { Box, FaceForm } from '../bodies/face-form.ts';
import { MeshFace } from '../bodies/mesh-face.ts';
import { readyMesh } from '../bodies/mesh-record.ts';
import { bodyDefinition, buildBody, type OwnBody } from '../bodies/registry.ts';
import type { MeshFault } from '../bodies/triangle-mesh.ts';
import { basicFor } from '../finishes/basic.ts';
import { failure } from '../math/outcome.ts';
import { extentToNumber } from '../math/parameter.ts';
import { AT_REST, compose, movePoint, type Rigid } from '../math/rigid.ts';
import type { Project } from '../project/model.ts';
import type { Body, Part, Scene } from '../project/scene.ts';
import type { Finding } from '../sequence/lens-model.ts';
import { combinedFaces, usedUp } from './combined.ts';
import type { LensBodies } from './lens-bodies.ts';
import type { SceneFace, SceneSolid } from './scene-model.ts';
import type { SceneOptics } from './scene-optics.ts';
import type { Standing } from './standing.ts';

type CombinedBody = Extract<Body, { kind: 'combined' }>;
type MeshBody = Extract<Body, { kind: 'mesh' }>;

/** One place at which a part stands. */
interface Place {
  readonly part: Part;
  /** The part that its body comes from, if it is a copy; itself otherwise. */
  readonly owner: Part;
  /** It with what it has from its owner. */
  readonly look: Part;
  readonly pose: Rigid;
  /** Suffix that distinguishes the faces of this copy, such as `#2`; empty for a part that is no pattern. */
  readonly copy: string;
  /** Whether it is the first copy: findings about the part are reported for that one only. */
  readonly first: boolean;
}

/** Makes the faces and solids of the parts of a scene. */
export class BodyBuilder {
  readonly faces: Omit<SceneFace, 'detectors'>[] = [];
  readonly solids: SceneSolid[] = [];
  readonly #project: Project;
  readonly #scene: Scene;
  readonly #standing: Standing;
  readonly #optics: SceneOptics;
  readonly #findings: Finding[];
  readonly #byId: ReadonlyMap<string, Part>;

  constructor(project: Project, scene: Scene, standing: Standing, optics: SceneOptics, findings: Finding[]) {
    this.#project = project;
    this.#scene = scene;
    this.#standing = standing;
    this.#optics = optics;
    this.#findings = findings;
    this.#byId = new Map(scene.parts.map((part) => [part.id, part]));
  }

  /** @param lensOf - the bodies of a lens of the project, or why there are none */
  addAll(lensOf: (lens: string) => LensBodies | string): void {
    const used = usedUp(this.#scene, this.#standing);
    for (const part of this.#scene.parts) {
      const poses = this.#standing.get(part.id);
      if (!poses || used.has(part.id)) continue; // excluded, in a circle of frames, or part of a combination
      const [body, owner] = bodyOf(part, this.#byId, this.#findings);
      if (!body || !owner) continue;
      const look = inherit(part, owner);
      poses.forEach((pose, number) => {
        const copy = poses.length > 1 ? `#${number + 1}` : '';
        const place: Place = { part, owner, look, pose, copy, first: number === 0 };
        if (body.kind === 'lens') this.#lens(place, lensOf(body.lens));
        else if (body.kind === 'mesh') this.#mesh(place, body);
        else if (body.kind === 'combined') this.#combined(place, body);
        else this.#own(place, body);
      });
    }
  }

  #say({ part, first }: Place, severity: Finding['severity'], text: string): void {
    if (first) this.#findings.push({ severity, where: part.id, text });
  }

  /** Adds a face; `inner` and `outer` are indices of solids, `fallback` the finish that it has if nobody chose one. */
  #face(
    { pose, copy }: Place,
    look: Part,
    face: { readonly name: string; readonly form: FaceForm; readonly pose: Rigid },
    [inner, outer]: readonly [number, number],
    fallback: string,
  ): void {
    const { name, form } = face;
    const finish = this.#optics.finishOf(look, name, fallback);
    const at = compose(pose, face.pose);
    this.faces.push({
      id: `${look.id}${copy}.${name}`,
      part: look.id,
      name,
      form,
      pose: at,
      inner,
      outer,
      finish,
      optics: this.#optics.of(finish),
      through: false,
      box: boxIn(form.box, at),
    });
  }

  /** Adds a solid; its index. */
  #solid({ look, copy }: Place, name: string, id: string | undefined): number {
    const material = id === undefined ? undefined : this.#optics.material(id);
    if (id !== undefined && !material)
      this.#findings.push({ severity: 'error', where: look.id, text: `The project has no material “${id}”.` });
    const { volume } = look;
    this.solids.push({
      part: look.id,
      name: name + copy,
      material,
      ...this.#optics.media(material, volume, look.id),
      scattering: 1 / extentToNumber(volume?.freePath ?? 'infinity'),
      asymmetry: volume?.asymmetry ?? 0,
    });
    return this.solids.length - 1;
  }

  #own(place: Place, body: OwnBody): void {
    const { look } = place;
    const definition = bodyDefinition(body.kind)!;
    const wrong = definition.objection?.(body) ?? null;
    if (wrong) return this.#say(place, 'error', `No such body: ${wrong}.`);
    const solid = definition.solid ? this.#solid(place, definition.title, look.material) : -1;
    const clear = look.material !== undefined;
    for (const face of buildBody(body)) this.#face(place, look, face, [solid, -1], basicFor(definition.solid, clear));
    if (definition.solid && !clear && look.finish === undefined)
      this.#say(place, 'warning', 'It has neither a material nor a finish: it absorbs all light.');
  }

  #combined(place: Place, body: CombinedBody): void {
    const { look, owner } = place;
    const combined = combinedFaces(body, owner, this.#byId, this.#standing);
    if (typeof combined === 'string') return this.#say(place, 'error', combined);
    const solid = this.#solid(place, 'Combination', look.material);
    for (const face of combined)
      this.#face(place, look, face, [solid, -1], basicFor(true, look.material !== undefined));
  }

  #mesh(place: Place, { mesh: id, scale }: MeshBody): void {
    const { look } = place;
    const record = this.#project.meshes?.find((one) => one.id === id);
    const ready = record ? readyMesh(record, scale) : failure(`The project has no mesh “${id}”.`);
    if (!ready.ok) return this.#say(place, 'error', ready.reason);
    const mesh = ready.value;
    for (const fault of mesh.faults) this.#say(place, 'warning', meshFault(fault, mesh.closed));
    const solid = mesh.closed ? this.#solid(place, 'Mesh', look.material) : -1;
    const fallback = basicFor(mesh.closed, mesh.closed && look.material !== undefined);
    this.#face(place, look, { name: 'skin', form: new MeshFace(mesh), pose: AT_REST }, [solid, -1], fallback);
  }

  #lens(place: Place, bodies: LensBodies | string): void {
    if (typeof bodies === 'string') return this.#say(place, 'error', bodies);
    for (const text of bodies.wrong) this.#say(place, 'warning', text);
    const base = this.solids.length;
    for (const { name, material } of bodies.solids) this.#solid(place, name, material);
    const shift = (index: number) => (index < 0 ? -1 : base + index);
    // A finish of the whole part would coat rims and image too: it goes to the optical faces alone.
    const plain: Part = { ...place.look, finish: undefined as never };
    for (const face of bodies.faces) {
      this.#face(place, face.optical ? place.look : plain, face, [shift(face.inner), shift(face.outer)], face.finish);
    }
  }
}

/** What is wrong with a mesh, where, and what to do. */
function meshFault({ kind, count, at }: MeshFault, closed: boolean): string {
  const where = `the first at (${at.map((value) => Number(value.toPrecision(6))).join(', ')}) mm of it`;
  const open = closed ? '' : ' It is traced as a sheet without inside; mend it where it was made.';
  switch (kind) {
    case 'hole':
      return `The mesh is not closed: ${count} edges bound one triangle only, ${where}.${open}`;
    case 'flipped':
      return `At ${count} edges of the mesh a triangle is turned inside out, ${where}.${open}`;
    case 'crowded':
      return `At ${count} edges of the mesh more than two triangles meet, ${where}.${open}`;
    case 'flat':
      return `${count} triangles of the mesh have no area, ${where}; they are ignored.${open}`;
    case 'doubled':
      return `${count} triangles of the mesh stand exactly on another one, ${where}; they are ignored.${open}`;
  }
}

/** A copy has the body of its original, and what it does not say itself: material, volume and finishes. */
function inherit(part: Part, owner: Part): Part {
  if (part === owner) return part;
  return { ...owner, ...part, body: owner.body, faces: { ...owner.faces, ...part.faces } };
}

/** The body of a part and the part that it comes from; nulls for groups and where copies go in circles. */
function bodyOf(
  part: Part,
  byId: ReadonlyMap<string, Part>,
  findings: Finding[],
): readonly [Exclude<Part['body'], { kind: 'copy' | 'group' }>, Part] | readonly [null, null] {
  let owner: Part | undefined = part;
  const seen = new Set<Part>();
  while (owner && owner.body.kind === 'copy') {
    if (seen.has(owner)) {
      findings.push({ severity: 'error', where: part.id, text: 'It is a copy of itself.' });
      return [null, null];
    }
    seen.add(owner);
    const of: string = owner.body.of;
    owner = byId.get(of);
    if (!owner) findings.push({ severity: 'error', where: part.id, text: `There is no part “${of}” to copy.` });
  }
  if (!owner || owner.body.kind === 'group' || owner.body.kind === 'copy') return [null, null];
  return [owner.body, owner];
}

/** The box of a box that was moved. */
export function boxIn({ min, max }: Box, pose: Rigid): Box {
  const low = [Infinity, Infinity, Infinity] as [number, number, number];
  const high = [-Infinity, -Infinity, -Infinity] as [number, number, number];
  for (let corner = 0; corner < 8; corner++) {
    const point = movePoint(pose, [
      corner & 1 ? max[0] : min[0],
      corner & 2 ? max[1] : min[1],
      corner & 4 ? max[2] : min[2],
    ]);
    for (let axis = 0; axis < 3; axis++) {
      low[axis] = Math.min(low[axis], point[axis]);
      high[axis] = Math.max(high[axis], point[axis]);
    }
  }
  return { min: low, max: high };
}
