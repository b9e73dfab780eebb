/**
 * J₁(x), to 1.3e-8 of x: polynomials of M. Abramowitz and I. Stegun, Handbook of Mathematical Functions, 9.4.4 and 9.4.6.
 */
export function besselJ1(x: number): number {
  const far = Math.abs(x);
  if (far <= 3) {
    const t = (x / 3) ** 2;
    return (
      x *
      (0.5 +
        t *
          (-0.56249985 + t * (0.21093573 + t * (-0.03954289 + t * (0.00443319 + t * (-0.00031761 + t * 0.00001109))))))
    );
  }
  const t = 3 / far;
  const size =
    0.79788456 +
    t * (0.00000156 + t * (0.01659667 + t * (0.00017105 + t * (-0.00249511 + t * (0.00113653 - t * 0.00020033)))));
  const turn =
    far -
    2.35619449 +
    t * (0.12499612 + t * (0.0000565 + t * (-0.00637879 + t * (0.00074348 + t * (0.00079824 - t * 0.00029166)))));
  return (Math.sign(x) * size * Math.cos(turn)) / Math.sqrt(far);
}

/**
 * Jₙ(x) for a small whole n, to rounding: (1/π)∫cos(nθ − x sin θ) dθ by the trapezoidal rule, which converges faster than any power for a
 * periodic function.
 */
export function besselJ(n: number, x: number): number {
  const steps = 32 + Math.ceil(Math.abs(x));
  let sum = 0;
  for (let k = 0; k < steps; k++) {
    const turn = (2 * Math.PI * (k + 0.5)) / steps;
    sum += Math.cos(n * turn - x * Math.sin(turn));
  }
  return sum / steps;
}
