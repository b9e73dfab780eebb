/** The scene and the ray under way, and the calls that leave for what only TypeScript knows. AssemblyScript, built by `npm run kernels`. */
import {
  SCENE_ABSORPTION, SCENE_AIM_COUNT, SCENE_AIMS, SCENE_CLEAR, SCENE_COUNT, SCENE_DETECTOR_COUNT, SCENE_DETECTORS, SCENE_EVENTS,
  SCENE_FACE_COUNT, SCENE_FACES, SCENE_FIRST, SCENE_INDICES, SCENE_CHANNELS, SCENE_MET, SCENE_NODES, SCENE_ORDER, SCENE_RAYS,
  SCENE_SOLID_COUNT, SCENE_SOLIDS, SCENE_SPLIT, SCENE_THRESHOLD, SCENE_VOLUMES, SCENE_WAVE_COUNT,
} from '../../src/scene/kernel-layout.ts';

export let scene: usize = 0;
export let faces: usize = 0;
export let faceCount: i32 = 0;
export let nodes: usize = 0;
export let first: usize = 0;
export let counts: usize = 0;
export let order: usize = 0;
export let solids: usize = 0;
export let solidCount: i32 = 0;
export let indices: usize = 0;
export let absorption: usize = 0;
export let waveCount: i32 = 0;
export let detectors: usize = 0;
export let detectorCount: i32 = 0;
/** Index of the channel by source and wavelength. */
export let channels: usize = 0;
export let met: usize = 0;
export let rays: usize = 0;
export let split: bool = false;
export let mostEvents: i32 = 0;
export let threshold: f64 = 0;
/** Whether what is around all bodies has an index and takes no light, at every wavelength. */
export let clear: bool = false;

/** Whether any detector is a block of cells. */
export let volumes: bool = false;
/** The balls that scattered light is aimed at, and how many. */
export let aims: usize = 0;
export let aimCount: i32 = 0;

/** Reads where the tables of the scene stand. */
export function configure(record: usize): void {
  scene = record;
  faces = load<u32>(record, SCENE_FACES);
  faceCount = load<i32>(record, SCENE_FACE_COUNT);
  nodes = load<u32>(record, SCENE_NODES);
  first = load<u32>(record, SCENE_FIRST);
  counts = load<u32>(record, SCENE_COUNT);
  order = load<u32>(record, SCENE_ORDER);
  solids = load<u32>(record, SCENE_SOLIDS);
  solidCount = load<i32>(record, SCENE_SOLID_COUNT);
  indices = load<u32>(record, SCENE_INDICES);
  absorption = load<u32>(record, SCENE_ABSORPTION);
  waveCount = load<i32>(record, SCENE_WAVE_COUNT);
  detectors = load<u32>(record, SCENE_DETECTORS);
  detectorCount = load<i32>(record, SCENE_DETECTOR_COUNT);
  channels = load<u32>(record, SCENE_CHANNELS);
  met = load<u32>(record, SCENE_MET);
  rays = load<u32>(record, SCENE_RAYS);
  split = load<i32>(record, SCENE_SPLIT) != 0;
  mostEvents = load<i32>(record, SCENE_EVENTS);
  threshold = load<f64>(record, SCENE_THRESHOLD);
  clear = load<i32>(record, SCENE_CLEAR) != 0;
  volumes = load<i32>(record, SCENE_VOLUMES) != 0;
  aims = load<u32>(record, SCENE_AIMS);
  aimCount = load<i32>(record, SCENE_AIM_COUNT);
}

/** Distances to the places where a line meets one face, at most 8; three numbers that come back from calls; nodes to look at. */
export const MEETINGS: usize = memory.data(8 * 8, 16);
export const RETURNED: usize = memory.data(4 * 8, 16);
/** Place and direction of a ray, for calls. */
export const PLACE: usize = memory.data(6 * 8, 16);
export const OPEN_NODES: usize = memory.data(128 * 4, 16);
export const OPEN_ENTRIES: usize = memory.data(128 * 8, 16);

/** Writes distances along a line in a face's own coordinates into MEETINGS and says how many. */
// @ts-ignore: decorator
@external('env', 'meetForeign')
export declare function meetForeign(face: i32, x: f64, y: f64, z: f64, l: f64, m: f64, n: f64): i32;
/** Writes the normal of a face at a place of it into RETURNED. */
// @ts-ignore: decorator
@external('env', 'normalForeign')
export declare function normalForeign(face: i32, x: f64, y: f64, z: f64): void;
/** Writes the shares reflected and let through into RETURNED. */
// @ts-ignore: decorator
@external('env', 'sharesForeign')
export declare function sharesForeign(face: i32, wave: i32, n1: f64, n2: f64, cosine: f64, outward: bool): void;
/** The share that a law of scatter spreads, by the sine of incidence. */
// @ts-ignore: decorator
@external('env', 'spreadForeign')
export declare function spreadForeign(law: i32, sine: f64): f64;
/** Draws a direction about the specular one into RETURNED, from a key and the draws so far; how many those are then comes fourth. */
// @ts-ignore: decorator
@external('env', 'drawForeign')
export declare function drawForeign(law: i32, sx: f64, sy: f64, keyA: u32, keyB: u32, draws: u32): void;
/** Probability of a direction per steradian under a law of scatter. */
// @ts-ignore: decorator
@external('env', 'densityForeign')
export declare function densityForeign(law: i32, sx: f64, sy: f64, ox: f64, oy: f64): f64;
/** Counts what is lost from a flux on a way, in blocks of cells; place and direction stand in PLACE. */
// @ts-ignore: decorator
@external('env', 'depositForeign')
export declare function depositForeign(way: f64, flux: f64, loss: f64, source: i32, wave: i32): void;
/** Something that should not be, between bodies a and b (−1 for none), and where. */
// @ts-ignore: decorator
@external('env', 'mishap')
export declare function mishap(kind: i32, a: i32, b: i32, x: f64, y: f64, z: f64): void;
