/**
 * Points that fill a cube evenly, whatever their number: multiples of the powers of 1/φ, φ being the root of φ^(d+1) = φ + 1 (M. Roberts, “The
 * unreasonable effectiveness of quasirandom sequences”, 2018; d = 1 is the golden ratio).
 *
 * @param from - 0 to 1: where the sequence begins
 * @param size - dimensions d of the cube
 * @returns the point of a number from 0 on, each coordinate from 0 up to 1
 */
export function evenPoints(from: number, size: number): (k: number) => number[] {
  let ratio = 2;
  for (let round = 0; round < 60; round++) ratio = (1 + ratio) ** (1 / (size + 1));
  return (k) => Array.from({ length: size }, (_, j) => (from + (k + 1) * ratio ** -(j + 1)) % 1);
}
