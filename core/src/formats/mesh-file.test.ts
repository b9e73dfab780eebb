import { expect } from 'chai';
import { block } from '../bodies/mesh-fixtures.ts';
import { readyMesh } from '../bodies/mesh-record.ts';
import type { TriangleMesh } from '../bodies/triangle-mesh.ts';
import { toBase64 } from '../math/base64.ts';
import { readMeshFile } from './mesh-file.ts';

const { corners, triangles } = block(4, 6, 10);
const corner = (k: number) => [...corners.subarray(3 * triangles[k], 3 * triangles[k] + 3)];
const bytesOf = (text: string) => new TextEncoder().encode(text);

function stlBytes(): Uint8Array {
  const bytes = new Uint8Array(84 + (50 * triangles.length) / 3);
  const view = new DataView(bytes.buffer);
  bytes.set(bytesOf('solid looks like text'));
  view.setUint32(80, triangles.length / 3, true);
  for (let k = 0; k < triangles.length; k++)
    corner(k).forEach((value, axis) =>
      view.setFloat32(84 + 50 * Math.floor(k / 3) + 12 * (1 + (k % 3)) + 4 * axis, value, true),
    );
  return bytes;
}

function stlText(): string {
  let text = 'solid block\n';
  for (let k = 0; k < triangles.length; k += 3)
    text += ` facet normal 0 0 0\n  outer loop\n${[0, 1, 2]
      .map(
        (i) =>
          `   vertex ${corner(k + i)
            .map((value) => value.toExponential())
            .join(' ')}\n`,
      )
      .join('')}  endloop\n endfacet\n`;
  return `${text}endsolid block\n`;
}

/** A glTF of the block in metres, its indices in two bytes, within a node that is moved and a node that is turned and scaled. */
function gltf(more: object = {}): { json: string; data: Uint8Array } {
  const places = Float32Array.from(corners, (value) => value / 2000);
  const indices = Uint16Array.from(triangles);
  const data = new Uint8Array(places.byteLength + indices.byteLength);
  data.set(new Uint8Array(places.buffer));
  data.set(new Uint8Array(indices.buffer), places.byteLength);
  const json = JSON.stringify({
    asset: { version: '2.0' },
    scene: 0,
    scenes: [{ nodes: [0] }],
    nodes: [
      { children: [1], translation: [0, 0, 0.1] },
      { mesh: 0, rotation: [0, 0, Math.SQRT1_2, Math.SQRT1_2], scale: [2, 2, 2] },
    ],
    meshes: [
      {
        primitives: [
          { attributes: { POSITION: 0 }, indices: 1 },
          { mode: 1, attributes: { POSITION: 0 } },
        ],
      },
    ],
    accessors: [
      { bufferView: 0, componentType: 5126, count: corners.length / 3, type: 'VEC3' },
      { bufferView: 1, componentType: 5123, count: triangles.length, type: 'SCALAR' },
    ],
    bufferViews: [
      { buffer: 0, byteLength: places.byteLength },
      { buffer: 0, byteOffset: places.byteLength, byteLength: indices.byteLength },
    ],
    buffers: [{ byteLength: data.length }],
    ...more,
  });
  return { json, data };
}

function glb({ json, data }: { json: string; data: Uint8Array }): Uint8Array {
  const text = bytesOf(json.padEnd(Math.ceil(json.length / 4) * 4));
  const bytes = new Uint8Array(12 + 8 + text.length + 8 + data.length);
  const view = new DataView(bytes.buffer);
  view.setUint32(0, 0x46546c67, true);
  view.setUint32(4, 2, true);
  view.setUint32(8, bytes.length, true);
  view.setUint32(12, text.length, true);
  view.setUint32(16, 0x4e4f534a, true);
  bytes.set(text, 20);
  view.setUint32(20 + text.length, data.length, true);
  view.setUint32(24 + text.length, 0x004e4942, true);
  bytes.set(data, 28 + text.length);
  return bytes;
}

function meshOf(name: string, bytes: Uint8Array): TriangleMesh {
  const read = readMeshFile(name, bytes);
  if (!read.ok) throw new Error(read.reason);
  const ready = readyMesh(read.value);
  if (!ready.ok) throw new Error(ready.reason);
  return ready.value;
}

function expectRefused(name: string, bytes: Uint8Array, reason: RegExp): void {
  const read = readMeshFile(name, bytes);
  expect(read.ok).to.equal(false);
  if (!read.ok) expect(read.reason).to.match(reason);
}

describe('Files of meshes', () => {
  it('STL as bytes and as text give one closed body, its corners joined', () => {
    for (const bytes of [stlBytes(), bytesOf(stlText())]) {
      const mesh = meshOf('hood.STL', bytes);
      expect(mesh.corners.length).to.equal(24);
      expect(mesh.closed).to.equal(true);
      expect(mesh.volume).to.be.closeTo(240, 1e-9);
    }
  });

  it('glTF comes in mm, each node in its place, lines left out', () => {
    const inside = gltf({
      buffers: [{ uri: `data:application/octet-stream;base64,${toBase64(gltf().data)}` }],
    });
    for (const mesh of [meshOf('a.glb', glb(gltf())), meshOf('a.gltf', bytesOf(inside.json))]) {
      expect(mesh.closed).to.equal(true);
      expect(mesh.volume).to.be.closeTo(240, 1e-3);
      // Turned by 90° about z: what was 4 along x lies along y; 0.1 m up.
      for (const [k, half] of [
        [0, 3],
        [1, 2],
      ])
        expect(mesh.tree.max[k]).to.be.closeTo(half, 1e-5);
      expect(mesh.tree.min[2]).to.be.closeTo(95, 1e-4);
      expect(mesh.tree.max[2]).to.be.closeTo(105, 1e-4);
    }
  });

  it('what is no mesh is refused in words', () => {
    expectRefused('a.step', stlBytes(), /neither STL/);
    expectRefused('a.stl', stlBytes().subarray(0, 300), /says it has 12 triangles, and has bytes for 4/);
    expectRefused('a.stl', bytesOf('hello'), /no STL/);
    expectRefused('a.stl', bytesOf('solid a\nvertex 1 2 nothing'), /no corner/);
    expectRefused('a.stl', bytesOf('solid a\nvertex 1 2 3'), /cut off/);
    expectRefused('a.stl', bytesOf('solid a\nendsolid'), /no triangle/);
    expectRefused('a.glb', bytesOf('no binary, but long enough'), /no binary glTF/);
    expectRefused('a.glb', glb(gltf()).subarray(0, 200), /cut off/);
    expectRefused('a.gltf', bytesOf('{'), /JSON/);
    expectRefused('a.gltf', bytesOf(gltf({ buffers: [{ uri: 'block.bin' }] }).json), /another file/);
    expectRefused('a.gltf', bytesOf(gltf({ accessors: [] }).json), /not there/);
    expectRefused('a.gltf', bytesOf(gltf({ nodes: [{ children: [0] }] }).json), /circles/);
    expectRefused('a.gltf', bytesOf('{"meshes": 5, "nodes": [{"mesh": 0}]}'), /does not hold together|not there/);
  });
});
