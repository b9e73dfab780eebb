import type { Box, FaceForm } from '../bodies/face-form.ts';
import { freeFace } from '../detectors/registry.ts';
import { basicFinish } from '../finishes/basic.ts';
import type { CompiledFinish, Finish } from '../finishes/finish.ts';
import type { Material } from '../materials/material.ts';
import { AT_REST, inverse, type Rigid } from '../math/rigid.ts';
import type { Project } from '../project/model.ts';
import type { Scene } from '../project/scene.ts';
import type { Finding } from '../sequence/lens-model.ts';
import { compileAims, type Aim } from './aims.ts';
import { BodyBuilder, boxIn } from './body-builder.ts';
import { channelsOf, type Channel } from './channels.ts';
import { compileDetectors, type CompiledDetector, type Uncounted } from './detectors.ts';
import { FaceTree } from './face-tree.ts';
import type { LensBodies } from './lens-bodies.ts';
import { SceneOptics } from './scene-optics.ts';
import { compileSources, type CompiledSource } from './sources.ts';
import { placeAll, type Standing } from './standing.ts';

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
  /** What detectors count apart. */
  readonly channels: readonly Channel[];
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
  const waves = wavesOf(scene);
  const optics = new SceneOptics(project, waves, findings);
  const medium = optics.material(scene.medium);
  if (!medium) findings.push({ severity: 'error', text: `The project has no material “${scene.medium}”.` });
  const builder = new BodyBuilder(project, scene, standing, optics, findings);
  builder.addAll(lensOf);
  const around = optics.media(medium, undefined, scene.id);
  const shining = scene.sources.filter(({ excluded, flux }) => !excluded && flux !== 0);
  const most = shining.reduce((sum, { light }) => sum + new Set(light.map(({ nm }) => nm)).size, 0);
  const meters = compileDetectors(scene, standing, builder.faces, most, findings);
  const faces = withDetectors(builder.faces, meters, optics);
  const sources = compileSources(scene, standing, faces, waves, findings);
  if (scene.sources.length > 0 && sources.length === 0)
    findings.push({
      severity: 'warning',
      text: 'Every source is excluded, or has no flux: nothing is traced.',
    });
  const channels = channelsOf(sources, waves);
  return {
    scene,
    faces,
    solids: builder.solids,
    waves,
    around,
    sources,
    channels,
    detectors: meters.map((meter) => ({ ...meter, channels })),
    aims: compileAims(scene.sampling.aims ?? [], faces, scene.id, findings),
    tree: new FaceTree(faces.map(({ box }) => box)),
    box: union(faces.map(({ box }) => box)),
    findings,
  };
}

/** All wavelengths of the sources that are not excluded, nm; green if there are none. */
function wavesOf({ sources }: Scene): readonly number[] {
  const lines = sources.filter(({ excluded }) => !excluded).flatMap(({ light }) => light.map(({ nm }) => nm));
  return lines.length > 0 ? [...new Set(lines)] : [555];
}

/** Faces with what counts light on them, and those of detectors that stand free. */
function withDetectors(
  faces: readonly Omit<SceneFace, 'detectors'>[],
  detectors: readonly Uncounted[],
  optics: SceneOptics,
): readonly SceneFace[] {
  const on = faces.map((face) => ({
    ...face,
    detectors: detectors.flatMap((detector, i) =>
      detector.face?.part === face.part && detector.face.name === face.name ? [i] : [],
    ),
  }));
  const finish = basicFinish('bare')!;
  const free = detectors.flatMap(({ id, detector, pose }, i): SceneFace[] => {
    const form = freeFace(detector.on);
    if (!form) return [];
    const sheet = { form, pose: pose!, box: boxIn(form.box, pose!), inner: -1, outer: -1, through: true };
    return [{ id, part: '', name: id, ...sheet, finish, optics: optics.of(finish), detectors: [i] }];
  });
  return [...on, ...free];
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
