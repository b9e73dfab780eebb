/**
 * Modulation of a perfect lens at a share of its cutoff: of a circular pupil 2/π (acos s − s√(1 − s²)); with a central obscuration ε
 * after E. L. O'Neill (J. Opt. Soc. Am. 46, 285, 1956).
 *
 * @param s - frequency over cutoff
 */
export function perfectModulation(s: number, obscuration: number): number {
  const lens = (x: number) => (x >= 1 ? 0 : (2 / Math.PI) * (Math.acos(x) - x * Math.sqrt(1 - x * x)));
  const e = obscuration;
  if (e === 0) return lens(s);
  // Overlap of two unit-area pupils: whole discs, less twice disc and hole, plus both holes.
  const crossed = discOverlap(2 * s, 1, e) / Math.PI;
  return (lens(s) - 2 * crossed + e * e * lens(s / e)) / (1 - e * e);
}

/** Area that two discs of radii a ≥ b have in common, their centres d apart. */
function discOverlap(d: number, a: number, b: number): number {
  if (d >= a + b) return 0;
  if (d <= a - b) return Math.PI * b * b;
  const p = (d * d + a * a - b * b) / (2 * d * a);
  const q = (d * d + b * b - a * a) / (2 * d * b);
  const root = Math.sqrt((-d + a + b) * (d + a - b) * (d - a + b) * (d + a + b));
  return a * a * Math.acos(p) + b * b * Math.acos(q) - root / 2;
}
