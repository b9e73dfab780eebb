// The normal distribution to the last digits, in the tails too: a yield of 99.99 % is known by the share that fails.

const ROOT_PI = Math.sqrt(Math.PI);
/** Beyond it 1 − erf would lose digits of erfc. */
const SERIES_END = 0.8;

/** 2/√π ∫ exp(−t²) from 0 to x by its series of positive terms; Abramowitz and Stegun, 7.1.6. */
function erfSeries(x: number): number {
  let term = x;
  let sum = x;
  for (let n = 1; Math.abs(term) > 1e-17 * Math.abs(sum); n++) {
    term *= (2 * x * x) / (2 * n + 1);
    sum += term;
  }
  return ((2 * sum) / ROOT_PI) * Math.exp(-x * x);
}

/** 1 − erf by its continued fraction, from the far end; Abramowitz and Stegun, 7.1.14. What n steps leave falls with exp(−x √(8n)). */
function erfcFraction(x: number): number {
  let below = x;
  for (let k = Math.ceil(20 + 200 / (x * x)); k > 0; k--) below = x + k / 2 / below;
  return Math.exp(-x * x) / (ROOT_PI * below);
}

/**
 * The complementary error function 2/√π ∫ exp(−t²) from x to ∞.
 *
 * @returns from 0 to 2, with a relative error below 1e-14 as long as it does not underflow (x < 26)
 */
export function erfc(x: number): number {
  if (x < 0) return 2 - erfc(-x);
  return x < SERIES_END ? 1 - erfSeries(x) : erfcFraction(x);
}

/** The share of a standard normal distribution below z, Φ(z). */
export function normalBelow(z: number): number {
  return erfc(-z / Math.SQRT2) / 2;
}

/** The density of a standard normal distribution at z. */
export function normalDensity(z: number): number {
  return Math.exp((-z * z) / 2) / Math.sqrt(2 * Math.PI);
}

/**
 * The z below which a share of a standard normal distribution lies, Φ⁻¹(share).
 *
 * The rational start of Abramowitz and Stegun, 26.2.23, then Halley's method on Φ.
 *
 * @param share - from 0 to 1
 * @returns −∞ for 0 and ∞ for 1
 */
export function normalQuantile(share: number): number {
  if (share <= 0) return -Infinity;
  if (share >= 1) return Infinity;
  if (share > 0.5) return -normalQuantile(1 - share);
  const t = Math.sqrt(-2 * Math.log(share));
  let z = -(t - (2.515517 + t * (0.802853 + 0.010328 * t)) / (1 + t * (1.432788 + t * (0.189269 + 0.001308 * t))));
  for (let step = 0; step < 3; step++) {
    const miss = (normalBelow(z) - share) / normalDensity(z);
    z -= miss / (1 + (z * miss) / 2);
  }
  return z;
}
