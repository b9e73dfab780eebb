import { fromBase64 } from '../math/base64.ts';
import { failure, success, type Outcome } from '../math/outcome.ts';
import { meshRecord, MOST_TRIANGLES, type MeshRecord } from '../bodies/mesh-record.ts';

/** Largest file of a mesh, bytes. */
export const MAX_MESH_BYTES = 200_000_000;

interface Skin {
  readonly corners: number[];
  readonly triangles: number[];
}

/**
 * Reads a mesh: STL, as text or bytes, in mm; glTF 2.0 (`.gltf` with its data inside, or `.glb`), in m, all its triangles with the places
 * of their nodes. Corners of one place become one corner.
 *
 * @param name - of the file; what follows the last dot says which format
 */
export function readMeshFile(name: string, bytes: Uint8Array): Outcome<MeshRecord> {
  const ending = /\.([^.]*)$/.exec(name)?.[1].toLowerCase() ?? '';
  const title = name.replace(/\.[^.]*$/, '').slice(0, 200) || 'mesh';
  let read: Outcome<Skin>;
  if (ending === 'stl') read = readStl(bytes);
  else if (ending === 'glb') read = readGlb(bytes);
  else if (ending === 'gltf') read = readGltf(new TextDecoder().decode(bytes), null);
  else return failure('it is neither STL (.stl) nor glTF (.glb, .gltf).');
  if (!read.ok) return read;
  const { corners, triangles } = welded(read.value);
  if (triangles.length === 0) return failure('it holds no triangle.');
  if (triangles.length > 3 * MOST_TRIANGLES) return failure(`it has more than ${MOST_TRIANGLES} triangles.`);
  if (corners.some((value) => !Number.isFinite(value))) return failure('a corner of it is no place.');
  return success(meshRecord('mesh', title, corners, triangles));
}

declare class TextDecoder {
  decode(bytes: Uint8Array): string;
}

function readStl(bytes: Uint8Array): Outcome<Skin> {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  const count = bytes.length >= 84 ? view.getUint32(80, true) : -1;
  // Files of bytes may begin with “solid” too: their length tells.
  if (count >= 0 && bytes.length === 84 + 50 * count) {
    if (count > MOST_TRIANGLES) return failure(`it has more than ${MOST_TRIANGLES} triangles.`);
    const corners: number[] = [];
    for (let i = 0; i < count; i++)
      for (let k = 0; k < 9; k++) corners.push(view.getFloat32(84 + 50 * i + 12 + 4 * k, true));
    return success(soup(corners));
  }
  if (count > 0 && bytes.includes(0))
    return failure(
      `it says it has ${count} triangles, and has bytes for ${Math.floor((bytes.length - 84) / 50)}: it is cut off, or no STL.`,
    );
  const text = new TextDecoder().decode(bytes);
  if (!/^\s*solid/.test(text)) return failure('it is no STL: neither its length nor its first word fits.');
  const corners: number[] = [];
  const vertex = /vertex\s+(\S+)\s+(\S+)\s+(\S+)/g;
  for (let found = vertex.exec(text); found; found = vertex.exec(text))
    for (let k = 1; k <= 3; k++) {
      const value = Number(found[k]);
      if (!Number.isFinite(value)) return failure(`“${found[0].slice(0, 60)}” is no corner.`);
      corners.push(value);
    }
  if (corners.length % 9 !== 0) return failure('its last triangle lacks corners: the file is cut off.');
  return success(soup(corners));
}

/** Corners of their own for each triangle. */
function soup(corners: number[]): Skin {
  return { corners, triangles: Array.from({ length: corners.length / 3 }, (_, i) => i) };
}

const GLB = 0x46546c67;

function readGlb(bytes: Uint8Array): Outcome<Skin> {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  if (bytes.length < 20 || view.getUint32(0, true) !== GLB) return failure('it is no binary glTF.');
  let json: string | null = null;
  let data: Uint8Array | null = null;
  for (let at = 12; at + 8 <= bytes.length;) {
    const length = view.getUint32(at, true);
    const kind = view.getUint32(at + 4, true);
    if (at + 8 + length > bytes.length) return failure('it is cut off.');
    const part = bytes.subarray(at + 8, at + 8 + length);
    if (kind === 0x4e4f534a) json = new TextDecoder().decode(part);
    else if (kind === 0x004e4942) data = part;
    at += 8 + length;
  }
  return json === null ? failure('it holds no description.') : readGltf(json, data);
}

interface Gltf {
  readonly scene?: number;
  readonly scenes?: readonly { readonly nodes?: readonly number[] }[];
  readonly nodes?: readonly GltfNode[];
  readonly meshes?: readonly { readonly primitives: readonly GltfPrimitive[] }[];
  readonly accessors?: readonly GltfAccessor[];
  readonly bufferViews?: readonly {
    readonly buffer: number;
    readonly byteOffset?: number;
    readonly byteStride?: number;
  }[];
  readonly buffers?: readonly { readonly uri?: string }[];
}
interface GltfNode {
  readonly mesh?: number;
  readonly children?: readonly number[];
  readonly matrix?: readonly number[];
  readonly translation?: readonly number[];
  readonly rotation?: readonly number[];
  readonly scale?: readonly number[];
}
interface GltfPrimitive {
  readonly mode?: number;
  readonly indices?: number;
  readonly attributes: { readonly POSITION?: number };
}
interface GltfAccessor {
  readonly bufferView?: number;
  readonly byteOffset?: number;
  readonly componentType: number;
  readonly count: number;
  readonly type: string;
}

/** By kind of component: its bytes, and how it is read. */
const COMPONENTS: Readonly<Record<number, readonly [number, (view: DataView, at: number) => number]>> = {
  5121: [1, (view, at) => view.getUint8(at)],
  5123: [2, (view, at) => view.getUint16(at, true)],
  5125: [4, (view, at) => view.getUint32(at, true)],
  5126: [4, (view, at) => view.getFloat32(at, true)],
};

/** glTF 2.0, Khronos Group (2017): triangles only; a file that is not as it should be fails with the reason of the first thing amiss. */
function readGltf(text: string, data: Uint8Array | null): Outcome<Skin> {
  let gltf: Gltf;
  try {
    gltf = JSON.parse(text) as Gltf;
  } catch {
    return failure('its description is no JSON.');
  }
  const skin: Skin = { corners: [], triangles: [] };
  try {
    const buffers = (gltf.buffers ?? []).map(({ uri }) => {
      if (uri === undefined) return data;
      const inside = /^data:[^,]*;base64,(.*)$/s.exec(uri);
      if (!inside) throw new Wrong('its data lie in another file: export it with everything inside, as .glb.');
      return fromBase64(inside[1]);
    });
    const numbers = (index: number, width: number): number[] => {
      const { bufferView, byteOffset = 0, componentType, count } = need(gltf.accessors, index);
      const { buffer, byteOffset: start = 0, byteStride } = need(gltf.bufferViews, bufferView);
      const bytes = buffers[buffer];
      const component = COMPONENTS[componentType];
      if (!bytes || !component) throw new Wrong('it packs its numbers in a way that is not known here.');
      const [size, read] = component;
      const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
      const stride = byteStride ?? size * width;
      return Array.from({ length: count * width }, (_, i) =>
        read(view, start + byteOffset + stride * Math.floor(i / width) + size * (i % width)),
      );
    };
    const visit = (index: number, above: readonly number[], depth: number): void => {
      if (depth > 100) throw new Wrong('its nodes go in circles.');
      const node = need(gltf.nodes, index);
      const pose = times(above, matrixOf(node));
      for (const { mode = 4, indices, attributes } of node.mesh === undefined
        ? []
        : need(gltf.meshes, node.mesh).primitives) {
        if (mode !== 4 || attributes.POSITION === undefined) continue; // points and lines bound nothing
        const places = numbers(attributes.POSITION, 3);
        const first = skin.corners.length / 3;
        for (let i = 0; i < places.length; i += 3)
          for (let row = 0; row < 3; row++)
            skin.corners.push(
              1000 *
                (pose[row] * places[i] +
                  pose[4 + row] * places[i + 1] +
                  pose[8 + row] * places[i + 2] +
                  pose[12 + row]),
            );
        const order =
          indices === undefined ? Array.from({ length: places.length / 3 }, (_, i) => i) : numbers(indices, 1);
        if (order.some((corner) => corner >= places.length / 3))
          throw new Wrong('a triangle of it has a corner that is not there.');
        for (let i = 0; i + 2 < order.length; i += 3)
          skin.triangles.push(first + order[i], first + order[i + 1], first + order[i + 2]);
        if (skin.triangles.length > 3 * MOST_TRIANGLES)
          throw new Wrong(`it has more than ${MOST_TRIANGLES} triangles.`);
      }
      for (const child of node.children ?? []) visit(child, pose, depth + 1);
    };
    const roots = gltf.scenes ? (need(gltf.scenes, gltf.scene ?? 0).nodes ?? []) : (gltf.nodes ?? []).map((_, i) => i);
    for (const root of roots) visit(root, [1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1], 0);
  } catch (error) {
    return failure(error instanceof Wrong ? error.message : 'its description does not hold together.');
  }
  return success(skin);
}

class Wrong extends Error {}

function need<T>(list: readonly T[] | undefined, index: number | undefined): T {
  const found = index === undefined ? undefined : list?.[index];
  if (found === undefined) throw new Wrong('its description names a part that is not there.');
  return found;
}

/** Column by column, as glTF has it. */
function matrixOf({
  matrix,
  translation = [0, 0, 0],
  rotation = [0, 0, 0, 1],
  scale = [1, 1, 1],
}: GltfNode): readonly number[] {
  if (matrix) return matrix;
  const [x, y, z, w] = rotation;
  const [sx, sy, sz] = scale;
  return [
    (1 - 2 * (y * y + z * z)) * sx,
    2 * (x * y + z * w) * sx,
    2 * (x * z - y * w) * sx,
    0,
    2 * (x * y - z * w) * sy,
    (1 - 2 * (x * x + z * z)) * sy,
    2 * (y * z + x * w) * sy,
    0,
    2 * (x * z + y * w) * sz,
    2 * (y * z - x * w) * sz,
    (1 - 2 * (x * x + y * y)) * sz,
    0,
    translation[0],
    translation[1],
    translation[2],
    1,
  ];
}

function times(a: readonly number[], b: readonly number[]): readonly number[] {
  return Array.from({ length: 16 }, (_, i) => {
    const [column, row] = [4 * Math.floor(i / 4), i % 4];
    return a[row] * b[column] + a[4 + row] * b[column + 1] + a[8 + row] * b[column + 2] + a[12 + row] * b[column + 3];
  });
}

/** Corners in one place become one, so that triangles know their neighbours. */
function welded({ corners, triangles }: Skin): { corners: Float32Array; triangles: Uint32Array } {
  const single = Float32Array.from(corners, (value) => value + 0); // −0 and 0 are one place
  const known = new Map<string, number>();
  const places: number[] = [];
  const renamed = new Uint32Array(single.length / 3);
  for (let i = 0; i < renamed.length; i++) {
    const [x, y, z] = [single[3 * i], single[3 * i + 1], single[3 * i + 2]];
    const key = `${x} ${y} ${z}`;
    let place = known.get(key);
    if (place === undefined) {
      known.set(key, (place = places.length / 3));
      places.push(x, y, z);
    }
    renamed[i] = place;
  }
  return { corners: Float32Array.from(places), triangles: Uint32Array.from(triangles, (corner) => renamed[corner]) };
}
