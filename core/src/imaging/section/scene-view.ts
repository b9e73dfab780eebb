import type { Triangles } from '../../bodies/face-form.ts';
import { spectralAt, type Spectral } from '../../light/spectral.ts';
import { AT_REST, movePoint, turnDirection, type Rigid } from '../../math/rigid.ts';
import type { CompiledDetector } from '../../scene/detectors.ts';
import type { Finding } from '../../sequence/lens-model.ts';
import { laidMap, type LaidMap } from './laid-map.ts';
import { detectorOutline } from './outlines.ts';
import { noTally } from '../../scene/run.ts';
import type { SceneFace, SceneModel } from '../../scene/scene-model.ts';
import { SceneTracer } from '../../scene/tracer.ts';
import { outsideKernel } from '../../scene/outside-kernel.ts';
import type { SceneEvaluation } from '../evaluation/scene-evaluation.ts';

/** A face ready to be drawn. */
export interface ViewFace {
  readonly id: string;
  readonly part: string;
  readonly name: string;
  /** In the coordinates of the scene. */
  readonly triangles: Triangles;
  readonly finish: string;
  readonly finishName: string;
  /** How it looks: `clear` lets light through, `mirror` reflects it as it came, `white` spreads it, `black` takes it. */
  readonly look: 'clear' | 'mirror' | 'white' | 'black';
  /** mm². */
  readonly area: number;
}

/** A source as a place: where it shines from and which way. */
export interface ViewSource {
  readonly id: string;
  readonly origin: readonly [number, number, number];
  readonly axis: readonly [number, number, number];
}

/** A detector as a place: where its map lies. */
export interface ViewDetector {
  readonly id: string;
  readonly pose: Rigid;
  /** mm in its own coordinates, degrees for the far field. */
  readonly range: CompiledDetector['range'];
  /** Its edges where it stands free, in its own coordinates: both ends of straight pieces. */
  readonly outline: Float32Array;
  readonly far: boolean;
  /** What its map can be laid on, where it is in one place. */
  readonly laid: LaidMap | null;
}

/** What is needed to make numbers of what a detector has counted. */
export type SceneModelPart = Pick<CompiledDetector, 'id' | 'range' | 'size' | 'detector' | 'chart' | 'channels'>;

/** What the 3D view of a scene draws. */
export interface SceneView {
  readonly faces: readonly ViewFace[];
  readonly sources: readonly ViewSource[];
  readonly detectors: readonly ViewDetector[];
  readonly meters: readonly SceneModelPart[];
  readonly box: { readonly min: readonly number[]; readonly max: readonly number[] } | null;
  readonly findings: readonly Finding[];
  /** What the compiled tracer asks TypeScript for, ray by ray: see `outsideKernel`. */
  readonly slow: readonly string[];
}

/** Rays of a scene as straight pieces. */
export interface SceneRays {
  /** x, y, z of both ends of each piece, mm. */
  readonly ends: Float32Array;
  /** By piece: share of its launch's flux, index of its source and wavelength, number of its launch. */
  readonly share: Float32Array;
  readonly source: Uint16Array;
  readonly wave: Uint16Array;
  readonly launch: Uint32Array;
  /** Index into the faces of the view at its end; −1 where it leaves, −2 where it is scattered on its way. */
  readonly face: Int32Array;
  readonly waves: readonly number[];
  readonly sources: readonly string[];
  /** By source: how many of its rays met anything. */
  readonly met: readonly number[];
  readonly launched: readonly number[];
  /** Ids of detectors on faces, by face index. */
  readonly detectors: Readonly<Record<number, readonly string[]>>;
}

/** Faces in all from which on round things are drawn with fewer pieces. */
const MANY = 120;

/** The drawing of a scene. */
export function sceneView({ model }: SceneEvaluation): SceneView {
  const drawn = model.faces.filter(({ through }) => !through);
  const detail = drawn.length > MANY ? 24 : 56;
  const shapes = new Map<SceneFace['form'], Triangles>();
  return {
    faces: drawn.map((face) => {
      let own = shapes.get(face.form);
      if (!own) shapes.set(face.form, (own = face.form.triangles(detail)));
      return {
        id: face.id,
        part: face.part,
        name: face.name,
        triangles: placed(own, face),
        finish: face.finish.id,
        finishName: face.finish.name,
        look: lookOf(model, face),
        area: face.form.area,
      };
    }),
    sources: model.sources.map(({ id, origin, axis }) => ({ id, origin: [...origin], axis: [...axis] })),
    detectors: model.detectors.map((detector, d): ViewDetector => {
      const { id, pose, range, chart } = detector;
      const face = model.faces.find(({ detectors }) => detectors.includes(d));
      return {
        id,
        pose: pose ?? face?.pose ?? AT_REST,
        range,
        outline: detectorOutline(detector),
        far: chart.kind === 'directions',
        laid: laidMap(detector, face?.form),
      };
    }),
    meters: model.detectors.map(({ id, range, size, detector, chart, channels }) => ({
      channels,
      id,
      range,
      size,
      detector,
      chart,
    })),
    box: model.box,
    findings: model.findings,
    slow: outsideKernel(model),
  };
}

function placed({ positions, normals, indices }: Triangles, { pose }: SceneFace): Triangles {
  const moved = new Float32Array(positions.length);
  const turned = new Float32Array(normals.length);
  for (let i = 0; i < positions.length; i += 3) {
    moved.set(movePoint(pose, [positions[i], positions[i + 1], positions[i + 2]]), i);
    turned.set(turnDirection(pose, [normals[i], normals[i + 1], normals[i + 2]]), i);
  }
  return { positions: moved, normals: turned, indices };
}

/** What reflects less looks black. */
const DIM = 0.3;

/** Mean over the wavelengths that are traced. */
const brightness = (reflectance: Spectral, waves: readonly number[]) =>
  waves.reduce((sum, nm) => sum + spectralAt(reflectance, nm), 0) / waves.length;

function lookOf(model: SceneModel, { finish, inner }: SceneFace): ViewFace['look'] {
  const solid = inner >= 0 ? model.solids[inner] : null;
  switch (finish.optics.kind) {
    case 'bare':
    case 'coating':
    case 'coating_table':
    case 'split':
      return solid && !solid.material ? 'black' : 'clear';
    case 'mirror':
      return brightness(finish.optics.reflectance, model.waves) > DIM ? 'mirror' : 'black';
    case 'metal':
      return 'mirror';
    case 'paint':
      return brightness(finish.optics.reflectance, model.waves) > DIM ? 'white' : 'black';
    case 'absorber':
      return 'black';
  }
}

/** Pieces that are drawn at most; what splits on and on would hide everything else. */
const MOST_PIECES = 20_000;

/**
 * A few rays of each source with all that comes of them, down to a share of their flux.
 *
 * @param rays - of each source
 */
export function sceneRays({ model }: SceneEvaluation, rays: number, least = 0.002): SceneRays {
  const equal = model.sources.map((one) => ({ ...one, watts: 1 }));
  const shown: SceneModel = {
    ...model,
    sources: equal,
    scene: {
      ...model.scene,
      sampling: { ...model.scene.sampling, threshold: least, splitting: 'split', events: 60 },
    },
  };
  const ends: number[] = [];
  const share: number[] = [];
  const source: number[] = [];
  const wave: number[] = [];
  const launch: number[] = [];
  const face: number[] = [];
  const tracer = new SceneTracer(shown, {
    watch(stretch) {
      if (share.length >= MOST_PIECES) return;
      ends.push(...stretch.from, ...stretch.to);
      share.push(stretch.share);
      source.push(stretch.source);
      wave.push(stretch.wave);
      launch.push(stretch.launch);
      face.push(stretch.face);
    },
  });
  const sum = noTally(shown);
  if (equal.length > 0) tracer.chunk(0, rays * equal.length, model.scene.sampling.seed, sum);
  const detectors: Record<number, readonly string[]> = {};
  model.faces.forEach((one, i) => {
    if (one.detectors.length > 0) detectors[i] = one.detectors.map((d) => model.detectors[d].id);
  });
  return {
    ends: Float32Array.from(ends),
    share: Float32Array.from(share),
    source: Uint16Array.from(source),
    wave: Uint16Array.from(wave),
    launch: Uint32Array.from(launch),
    face: Int32Array.from(face),
    waves: model.waves,
    sources: equal.map(({ id }) => id),
    met: [...sum.met],
    launched: [...sum.launched],
    detectors,
  };
}
