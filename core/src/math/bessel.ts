/**
 * J₁(x), to 1e-8: polynomials of M. Abramowitz and I. Stegun, Handbook of Mathematical Functions, 9.4.4 and 9.4.6.
 */
export function besselJ1(x: number): number {
  const far = Math.abs(x);
  if (far <= 3) {
    const t = (x / 3) ** 2;
    return x * (0.5 + t * (-0.56249985 + t * (0.21093573 + t * (-0.03954289 + t * (0.00443319 + t * (-0.00031761 + t * 0.00001109)))))); // prettier-ignore
  }
  const t = 3 / far;
  const size = 0.79788456 + t * (0.00000156 + t * (0.01659667 + t * (0.00017105 + t * (-0.00249511 + t * (0.00113653 - t * 0.00020033))))); // prettier-ignore
  const turn = far - 2.35619449 + t * (0.12499612 + t * (0.0000565 + t * (-0.00637879 + t * (0.00074348 + t * (0.00079824 - t * 0.00029166))))); // prettier-ignore
  return (Math.sign(x) * size * Math.cos(turn)) / Math.sqrt(far);
}

/** J₀(x), to 1e-7: the same book, 9.4.1 and 9.4.3. */
export function besselJ0(x: number): number {
  const far = Math.abs(x);
  if (far <= 3) {
    const t = (x / 3) ** 2;
    return (
      1 +
      t * (-2.2499997 + t * (1.2656208 + t * (-0.3163866 + t * (0.0444479 + t * (-0.0039444 + t * 0.00021)))))
    );
  }
  const t = 3 / far;
  const size = 0.79788456 + t * (-0.00000077 + t * (-0.0055274 + t * (-0.00009512 + t * (0.00137237 + t * (-0.00072805 + t * 0.00014476))))); // prettier-ignore
  const turn = far - 0.78539816 + t * (-0.04166397 + t * (-0.00003954 + t * (0.00262573 + t * (-0.00054125 + t * (-0.00029333 + t * 0.00013558))))); // prettier-ignore
  return (size * Math.cos(turn)) / Math.sqrt(far);
}
