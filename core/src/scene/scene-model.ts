import type { Box, FaceForm } from '../bodies/face-form.ts';
import { bodyDefinition, buildBody, type OwnBody } from '../bodies/registry.ts';
import { MeshFace } from '../bodies/mesh-face.ts';
import { readyMesh } from '../bodies/mesh-record.ts';
import { PlaneFace } from '../bodies/plane-face.ts';
import { coneFace, discFace } from '../bodies/quadric-face.ts';
import { sphereFace } from '../bodies/round.ts';
import type { MeshFault } from '../bodies/triangle-mesh.ts';
import { failure } from '../math/outcome.ts';
import { extentToNumber } from '../math/parameter.ts';
import { compileFinish, splitSum, type CompiledFinish, type Finish } from '../finishes/finish.ts';
import { STANDARD } from '../materials/air.ts';
import { indexIn, inRange, internalTransmittance, type Material } from '../materials/material.ts';
import { AT_REST, compose, inverse, movePoint, type Rigid } from '../math/rigid.ts';
import type { Project } from '../project/model.ts';
import type { Body, DetectorPlace, Part, Scene, Volume } from '../project/scene.ts';
import type { Finding } from '../sequence/lens-model.ts';
import { combinedFaces, usedUp } from './combined.ts';
import { compileAims, type Aim } from './aims.ts';
import { FaceTree } from './face-tree.ts';
import type { LensBodies } from './lens-bodies.ts';
import { placeAll, type Standing } from './standing.ts';
import { basicFinish, basicFor } from '../finishes/basic.ts';
import { compileSources, type CompiledSource } from './sources.ts';
import { compileDetectors, type CompiledDetector } from './detectors.ts';

/** A face in space. */
export interface SceneFace {
  /** `part.face`, with the number of the copy before the point where the part is a pattern: `part#2.face`. */
  readonly id: string;
  /** Ids of the part it belongs to and of the face in it. */
  readonly part: string;
  readonly name: string;
  readonly form: FaceForm;
  /** From its own coordinates to those of the scene. */
  readonly pose: Rigid;
  /** Index of the solid that its normal points out of; −1 for a sheet. */
  readonly inner: number;
  /** Index of the solid behind it where that is known beforehand; −1: whatever is around. */
  readonly outer: number;
  readonly finish: Finish;
  /** One for each wavelength. */
  readonly optics: readonly CompiledFinish[];
  /** In the coordinates of the scene. */
  readonly box: Box;
  /** Whether light passes it unhindered: a free detector. */
  readonly through: boolean;
  /** Indices of the detectors on it. */
  readonly detectors: readonly number[];
}

/** A volume with a medium in it. */
export interface SceneSolid {
  readonly part: string;
  readonly name: string;
  /** Undefined for a body that lets no light in. */
  readonly material: Material | undefined;
  /** By wavelength: index, and absorption in 1/mm. */
  readonly indices: Float64Array;
  readonly absorption: Float64Array;
  /** 1/mm; 0 where nothing scatters. */
  readonly scattering: number;
  readonly asymmetry: number;
}

type CombinedBody = Extract<Body, { kind: 'combined' }>;
type MeshBody = Extract<Body, { kind: 'mesh' }>;

/** A scene made ready for tracing. Made by `compileScene`; never fails, but says in `findings` what is missing. */
export interface SceneModel {
  readonly scene: Scene;
  readonly faces: readonly SceneFace[];
  readonly solids: readonly SceneSolid[];
  /** All wavelengths of all sources, nm. */
  readonly waves: readonly number[];
  /** Of the medium around, by wavelength. */
  readonly around: { readonly indices: Float64Array; readonly absorption: Float64Array };
  readonly sources: readonly CompiledSource[];
  readonly detectors: readonly CompiledDetector[];
  /** What scattered light is aimed at. */
  readonly aims: readonly Aim[];
  readonly tree: FaceTree;
  /** Everything in it, without what is unbounded; null for an empty scene. */
  readonly box: Box | null;
  readonly findings: readonly Finding[];
}

/**
 * Compiles a scene.
 *
 * @param lensOf - the bodies of a lens of the project, or why there are none
 */
export function compileScene(
  project: Project,
  scene: Scene,
  lensOf: (lens: string) => LensBodies | string,
): SceneModel {
  const findings: Finding[] = [];
  const standing = placeAll(scene, findings);
  const materials = new Map(project.materials.map((material) => [material.id, material]));
  const at = { ...STANDARD, ...project.surroundings };
  const waves = [
    ...new Set(scene.sources.filter(({ excluded }) => !excluded).flatMap(({ light }) => light.map(({ nm }) => nm))),
  ];
  if (waves.length === 0) waves.push(555);
  const media = (material: Material | undefined, volume: Volume | undefined, where: string) => {
    const indices = Float64Array.from(waves, (nm) => (material ? indexIn(material, nm, at) : NaN));
    const absorption = Float64Array.from(waves, (nm) => {
      const clear = material ? internalTransmittance(material, nm, 1) : null;
      return (clear === null ? 0 : -Math.log(clear)) + (volume?.absorption ?? 0);
    });
    if (material)
      for (const [i, nm] of waves.entries())
        if (Number.isNaN(indices[i]) || !inRange(material, nm)) {
          indices[i] = NaN;
          findings.push({
            severity: 'error',
            where,
            text: `${material.label} has no refractive index at ${nm} nm.`,
          });
        }
    return { indices, absorption };
  };
  const medium = materials.get(scene.medium);
  if (!medium) findings.push({ severity: 'error', text: `The project has no material “${scene.medium}”.` });
  const solids: SceneSolid[] = [];
  const faces: Omit<SceneFace, 'detectors'>[] = [];
  const finishes = new Map((project.finishes ?? []).map((finish) => [finish.id, finish]));
  const compiled = new Map<Finish, readonly CompiledFinish[]>();
  const opticsOf = (finish: Finish) => {
    let known = compiled.get(finish);
    if (!known) {
      compiled.set(finish, (known = waves.map((nm) => compileFinish(finish, nm))));
      const { optics, name } = finish;
      const sum = optics.kind === 'split' ? splitSum(optics) : 0;
      if (sum > 1)
        findings.push({
          severity: 'error',
          text:
            `${name} reflects and transmits ${(100 * sum).toFixed(1)} % together; both are lessened in proportion ` +
            'to 100 %. Give it shares that sum to 1 at most.',
        });
    }
    return known;
  };
  const finishOf = (part: Part, face: string, fallback: string): Finish => {
    const asked = part.faces?.[face]?.finish ?? part.finish ?? fallback;
    const found = finishes.get(asked) ?? basicFinish(asked);
    if (!found)
      findings.push({
        severity: 'error',
        where: part.id,
        text: `The project has no finish “${asked}”: ${face} takes all light.`,
      });
    return found ?? basicFinish('absorber')!;
  };
  const addFace = (
    part: Part,
    copy: string,
    name: string,
    form: FaceForm,
    pose: Rigid,
    inner: number,
    outer: number,
    fallback: string,
  ) => {
    const finish = finishOf(part, name, fallback);
    faces.push({
      id: `${part.id}${copy}.${name}`,
      part: part.id,
      name,
      form,
      pose,
      inner,
      outer,
      finish,
      optics: opticsOf(finish),
      through: false,
      box: boxIn(form.box, pose),
    });
  };
  const addSolid = (part: Part, name: string, id: string | undefined, copy: string): number => {
    const material = id === undefined ? undefined : materials.get(id);
    if (id !== undefined && !material)
      findings.push({ severity: 'error', where: part.id, text: `The project has no material “${id}”.` });
    const volume = part.volume;
    solids.push({
      part: part.id,
      name: name + copy,
      material,
      ...media(material, volume, part.id),
      scattering: 1 / extentToNumber(volume?.freePath ?? 'infinity'),
      asymmetry: volume?.asymmetry ?? 0,
    });
    return solids.length - 1;
  };
  const byId = new Map(scene.parts.map((part) => [part.id, part]));
  const used = usedUp(scene, standing);
  for (const part of scene.parts) {
    const places = standing.get(part.id);
    if (!places || used.has(part.id)) continue; // excluded, in a circle of frames, or part of a combination
    const [body, owner] = bodyOf(part, byId, findings);
    if (!body || !owner) continue;
    places.forEach((place, number) => {
      const copy = places.length > 1 ? `#${number + 1}` : '';
      if (body.kind === 'lens') addLens(part, owner, body.lens, place, copy, number === 0);
      else if (body.kind === 'mesh') addMesh(part, owner, body, place, copy, number === 0);
      else if (body.kind === 'combined') addCombined(part, owner, body, place, copy, number === 0);
      else addOwn(part, owner, body, place, copy);
    });
  }

  function addOwn(part: Part, owner: Part, body: OwnBody, place: Rigid, copy: string): void {
    const definition = bodyDefinition(body.kind)!;
    const wrong = definition.objection?.(body) ?? null;
    if (wrong) {
      if (!copy || copy === '#1') findings.push({ severity: 'error', where: part.id, text: `No such body: ${wrong}.` });
      return;
    }
    const look = inherit(part, owner);
    const solid = definition.solid ? addSolid(look, definition.title, look.material, copy) : -1;
    const clear = look.material !== undefined;
    for (const { name, form, pose } of buildBody(body))
      addFace(look, copy, name, form, compose(place, pose), solid, -1, basicFor(definition.solid, clear));
    if (definition.solid && !clear && look.finish === undefined && (!copy || copy === '#1'))
      findings.push({
        severity: 'warning',
        where: part.id,
        text: 'It has neither a material nor a finish: it takes all light.',
      });
  }

  function addCombined(part: Part, owner: Part, body: CombinedBody, place: Rigid, copy: string, first: boolean): void {
    const combined = combinedFaces(body, owner, byId, standing);
    if (typeof combined === 'string') {
      if (first) findings.push({ severity: 'error', where: part.id, text: combined });
      return;
    }
    const look = inherit(part, owner);
    const clear = look.material !== undefined;
    const solid = addSolid(look, 'Combination', look.material, copy);
    for (const { name, form, pose } of combined)
      addFace(look, copy, name, form, compose(place, pose), solid, -1, basicFor(true, clear));
  }

  function addMesh(
    part: Part,
    owner: Part,
    { mesh: id, scale }: MeshBody,
    place: Rigid,
    copy: string,
    first: boolean,
  ): void {
    const record = project.meshes?.find((one) => one.id === id);
    const ready = record ? readyMesh(record, scale) : failure(`The project has no mesh “${id}”.`);
    if (!ready.ok) {
      if (first) findings.push({ severity: 'error', where: part.id, text: ready.reason });
      return;
    }
    const look = inherit(part, owner);
    const mesh = ready.value;
    const clear = mesh.closed && look.material !== undefined;
    if (first)
      for (const fault of mesh.faults)
        findings.push({ severity: 'warning', where: part.id, text: meshFault(fault, mesh.closed) });
    const solid = mesh.closed ? addSolid(look, 'Mesh', look.material, copy) : -1;
    addFace(look, copy, 'skin', new MeshFace(mesh), place, solid, -1, basicFor(mesh.closed, clear));
  }

  function addLens(part: Part, owner: Part, lens: string, place: Rigid, copy: string, first: boolean): void {
    const bodies = lensOf(lens);
    if (typeof bodies === 'string') {
      if (first) findings.push({ severity: 'error', where: part.id, text: bodies });
      return;
    }
    if (first) for (const text of bodies.wrong) findings.push({ severity: 'warning', where: part.id, text });
    const base = solids.length;
    const look = inherit(part, owner);
    for (const { name, material } of bodies.solids) addSolid(look, name, material, copy);
    for (const { name, form, pose, inner, outer, finish } of bodies.faces) {
      const shift = (index: number) => (index < 0 ? -1 : base + index);
      // A finish of the whole part would coat rims and image too: it goes to the optical faces alone.
      const optical = finish === 'bare' || finish === 'mirror';
      const own: Part = optical ? look : { ...look, finish: undefined as never };
      addFace(own, copy, name, form, compose(place, pose), shift(inner), shift(outer), finish);
    }
  }

  const around = media(medium, undefined, scene.id);
  const detectors = compileDetectors(scene, standing, faces, findings);
  const onFace: SceneFace[] = faces.map((face) => ({
    ...face,
    detectors: detectors.flatMap((detector, i) =>
      detector.face?.part === face.part && detector.face.name === face.name ? [i] : [],
    ),
  }));
  const clear = basicFinish('bare')!;
  detectors.forEach(({ id, detector: { on }, pose }, i) => {
    const form = freeForm(on);
    if (!form) return;
    onFace.push({
      id,
      part: '',
      name: id,
      form,
      pose: pose!,
      inner: -1,
      outer: -1,
      finish: clear,
      optics: opticsOf(clear),
      through: true,
      box: boxIn(form.box, pose!),
      detectors: [i],
    });
  });
  const sources = compileSources(scene, standing, onFace, waves, findings);
  if (scene.sources.length > 0 && sources.length === 0)
    findings.push({
      severity: 'warning',
      text: 'Every source is left out, or has no flux: nothing is traced.',
    });
  return {
    scene,
    faces: onFace,
    solids,
    waves,
    around,
    sources,
    detectors,
    aims: compileAims(scene.sampling.aims ?? [], onFace, scene.id, findings),
    tree: new FaceTree(onFace.map(({ box }) => box)),
    box: union(onFace.map(({ box }) => box)),
    findings,
  };
}

/** The face of a detector that stands free; null for what counts elsewhere. */
export function freeForm(on: DetectorPlace): FaceForm | null {
  switch (on.kind) {
    case 'rectangle': {
      const [x, y] = [on.width / 2, on.height / 2];
      return new PlaneFace([
        [-x, -y],
        [x, -y],
        [x, y],
        [-x, y],
      ]);
    }
    case 'disc':
      return discFace(0, 0, on.radius, 1);
    case 'cylinder':
      return coneFace(on.radius, -on.length / 2, on.radius, on.length / 2, 1);
    case 'sphere':
      return sphereFace(on.radius);
    default:
      return null;
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
      return `${count} triangles of the mesh have no area, ${where}; they are left out.${open}`;
    case 'doubled':
      return `${count} triangles of the mesh stand exactly on another one, ${where}; they are left out.${open}`;
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

function union(boxes: readonly Box[]): Box | null {
  if (boxes.length === 0) return null;
  const pick = (of: 'min' | 'max', axis: number) => Math[of](...boxes.map((box) => box[of][axis]));
  return {
    min: [pick('min', 0), pick('min', 1), pick('min', 2)],
    max: [pick('max', 0), pick('max', 1), pick('max', 2)],
  };
}

/** The pose of something that has one place, or rest. */
export function onePlace(standing: Standing, id: string | undefined): Rigid {
  return (id === undefined ? undefined : standing.get(id)?.[0]) ?? AT_REST;
}

/** From the coordinates of the scene to those of a face. */
export function toFace({ pose }: Pick<SceneFace, 'pose'>): Rigid {
  return inverse(pose);
}
