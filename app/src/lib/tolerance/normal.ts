/** Density of a normal distribution. */
export function normalDensity(x: number, mean: number, deviation: number): number {
  return Math.exp(-(((x - mean) / deviation) ** 2) / 2) / (deviation * Math.sqrt(2 * Math.PI));
}
