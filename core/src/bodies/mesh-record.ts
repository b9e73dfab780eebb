import { fromBase64, toBase64 } from '../math/base64.ts';
import { failure, success, type Outcome } from '../math/outcome.ts';
import { TriangleMesh } from './triangle-mesh.ts';

/** A mesh as the document holds it. */
export interface MeshRecord {
  readonly id: string;
  readonly name: string;
  /** Single-precision numbers x, y, z of every corner, mm; then whole numbers, three corners a triangle: bytes, the lowest first, in base 64. */
  readonly corners: string;
  readonly triangles: string;
}

/** Most triangles of a mesh. */
export const MOST_TRIANGLES = 2_000_000;

/** A mesh written as a record. */
export function meshRecord(id: string, name: string, corners: Float32Array, triangles: Uint32Array): MeshRecord {
  const bytes = ({ buffer, byteOffset, byteLength }: Float32Array | Uint32Array) =>
    toBase64(new Uint8Array(buffer, byteOffset, byteLength));
  return { id, name, corners: bytes(corners), triangles: bytes(triangles) };
}

/** Meshes made ready lately, by their text: projects come to workers as copies. */
const READY = new Map<string, TriangleMesh>();
const KEPT = 4;

/** A mesh made ready, `scale` times its size. A failure says what is wrong with the record. */
export function readyMesh(record: MeshRecord, scale = 1): Outcome<TriangleMesh> {
  const key = `${scale} ${record.corners.length} ${record.corners}${record.triangles}`;
  const known = READY.get(key);
  if (known) return success(known);
  const numbers = fromBase64(record.corners);
  const indices = fromBase64(record.triangles);
  if (!numbers || !indices) return failure(`The mesh “${record.name}” is not written in base 64.`);
  if (numbers.length % 12 !== 0 || indices.length % 12 !== 0 || indices.length === 0)
    return failure(`The mesh “${record.name}” has corners or triangles cut off.`);
  const given = new Float32Array(numbers.buffer);
  const triangles = new Uint32Array(indices.buffer);
  if (triangles.length > 3 * MOST_TRIANGLES)
    return failure(`The mesh “${record.name}” has more than ${MOST_TRIANGLES} triangles.`);
  const corners = new Float64Array(given.length);
  for (let i = 0; i < given.length; i++) {
    if (!Number.isFinite(given[i]))
      return failure(`The mesh “${record.name}” has a corner with coordinates that are not finite.`);
    corners[i] = given[i] * scale;
  }
  const count = given.length / 3;
  for (const corner of triangles)
    if (corner >= count) return failure(`The mesh “${record.name}” has a triangle with a corner that is not there.`);
  const mesh = new TriangleMesh(corners, triangles);
  if (mesh.triangles.length === 0) return failure(`The mesh “${record.name}” has no triangle with an area.`);
  if (READY.size >= KEPT) READY.delete(READY.keys().next().value!);
  READY.set(key, mesh);
  return success(mesh);
}
