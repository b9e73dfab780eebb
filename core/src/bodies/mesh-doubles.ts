/** Mixes a whole number into a hash (R. Jenkins and others; the finaliser of MurmurHash3, A. Appleby). */
function mixed(hash: number, word: number): number {
  let h = Math.imul(hash ^ word, 0x85ebca6b);
  h ^= h >>> 13;
  h = Math.imul(h, 0xc2b2ae35);
  return h ^ (h >>> 16);
}

/**
 * The triangles of a mesh without those that another one covers exactly: the same three places, run through the same way. A ray would meet
 * both at once, and a mesh of nothing but such triangles could not be divided among boxes.
 *
 * @param corners - x, y, z of every corner, mm
 * @param triangles - three corners a triangle
 * @returns the triangles that stay, in their order; the given array where all do
 */
export function withoutDoubles(corners: Float64Array, triangles: Uint32Array): Uint32Array {
  const hashes = new Int32Array(corners.length / 3);
  const number = new Float64Array(1);
  const words = new Int32Array(number.buffer);
  for (let corner = 0; corner < hashes.length; corner++) {
    let hash = 0;
    for (let axis = 0; axis < 3; axis++) {
      number[0] = corners[3 * corner + axis] + 0; // −0 is the same place as 0
      hash = mixed(mixed(hash, words[0]), words[1]);
    }
    hashes[corner] = hash;
  }
  const same = (a: number, b: number) =>
    a === b ||
    (corners[3 * a] === corners[3 * b] &&
      corners[3 * a + 1] === corners[3 * b + 1] &&
      corners[3 * a + 2] === corners[3 * b + 2]);
  const turned = (a: number, b: number, c: number, i: number, j: number, k: number) =>
    same(a, triangles[i]) && same(b, triangles[j]) && same(c, triangles[k]);
  const covered = (one: number, other: number) => {
    const [a, b, c] = [triangles[3 * one], triangles[3 * one + 1], triangles[3 * one + 2]];
    const [i, j, k] = [3 * other, 3 * other + 1, 3 * other + 2];
    return turned(a, b, c, i, j, k) || turned(a, b, c, j, k, i) || turned(a, b, c, k, i, j);
  };
  // An open table of a power of two, at most half full: a triangle, by the sum of the hashes of its corners, plus one.
  const size = 2 ** Math.ceil(Math.log2(Math.max(2, (2 * triangles.length) / 3)));
  const table = new Int32Array(size);
  const kept: number[] = [];
  for (let i = 0; i < triangles.length; i += 3) {
    const sum = hashes[triangles[i]] + hashes[triangles[i + 1]] + hashes[triangles[i + 2]];
    let slot = mixed(0, sum | 0) & (size - 1);
    while (table[slot] !== 0 && !covered(i / 3, table[slot] - 1)) slot = (slot + 1) & (size - 1);
    if (table[slot] !== 0) continue;
    table[slot] = i / 3 + 1;
    kept.push(triangles[i], triangles[i + 1], triangles[i + 2]);
  }
  return kept.length === triangles.length ? triangles : Uint32Array.from(kept);
}
