import type { Law } from '../project/scene.ts';

/** A law of directions about the normal of the place where light starts. */
export interface CompiledLaw {
  /** Writes sine and cosine of the angle to the normal into `out`, drawn by a number between 0 and 1. */
  angle(u: number, out: Float64Array): void;
  /** Share of the light per steradian at a cosine to the normal; Infinity for parallel light. */
  density(cosine: number): number;
}

const radians = (degrees: number) => (degrees * Math.PI) / 180;

/** Makes a law of directions ready. */
export function compileLaw(law: Law): CompiledLaw {
  switch (law.kind) {
    case 'lambertian':
    case 'parallel': {
      const widest = Math.sin(radians(Math.min(90, law.half)));
      const least = Math.sqrt(1 - widest * widest);
      return {
        angle(u, out) {
          out[0] = widest * Math.sqrt(u);
          out[1] = Math.sqrt(1 - out[0] * out[0]);
        },
        density: (cosine) => (cosine > least ? cosine / (Math.PI * widest * widest) : 0),
      };
    }
    case 'isotropic': {
      const depth = 1 - Math.cos(radians(law.half));
      return {
        angle(u, out) {
          out[1] = 1 - u * depth;
          out[0] = Math.sqrt(Math.max(0, 1 - out[1] * out[1]));
        },
        density: (cosine) => (cosine > 1 - depth ? 1 / (2 * Math.PI * depth) : 0),
      };
    }
    case 'cosine_power': {
      const { power } = law;
      return {
        angle(u, out) {
          out[1] = u ** (1 / (power + 1));
          out[0] = Math.sqrt(Math.max(0, 1 - out[1] * out[1]));
        },
        density: (cosine) => (cosine > 0 ? ((power + 1) / (2 * Math.PI)) * cosine ** power : 0),
      };
    }
    case 'gaussian': {
      const width = Math.sin(radians(law.half));
      const square = width * width;
      return {
        angle(u, out) {
          out[0] = Math.min(1, width * Math.sqrt(-Math.log(u) / 2));
          out[1] = Math.sqrt(1 - out[0] * out[0]);
        },
        // Of sin²θ, drawn by its own exponential law; dΩ = π d(sin²θ)/cos θ.
        density: (cosine) =>
          cosine > 0 ? (2 / (Math.PI * square)) * Math.exp((-2 * (1 - cosine * cosine)) / square) * cosine : 0,
      };
    }
    case 'table':
      return tableLaw(law.degrees, law.intensity);
  }
}

const TABLE_STEPS = 2048;

/** Draws by intensity × sin θ, from its integral in small steps. */
function tableLaw(degrees: readonly number[], intensity: readonly number[]): CompiledLaw {
  const last = degrees.length - 1;
  const from = Math.cos(radians(degrees[0]));
  const to = Math.cos(radians(degrees[last]));
  const at = (theta: number) => {
    let i = 1;
    while (i < last && degrees[i] < theta) i++;
    const part = (theta - degrees[i - 1]) / (degrees[i] - degrees[i - 1]);
    return intensity[i - 1] + part * (intensity[i] - intensity[i - 1]);
  };
  const below = new Float64Array(TABLE_STEPS + 1);
  for (let i = 1; i <= TABLE_STEPS; i++) {
    const cosine = from + ((to - from) * (i - 0.5)) / TABLE_STEPS;
    below[i] = below[i - 1] + at((Math.acos(cosine) * 180) / Math.PI);
  }
  const angle = (u: number, out: Float64Array) => {
    const wanted = u * below[TABLE_STEPS];
    let [low, high] = [0, TABLE_STEPS];
    while (high - low > 1) {
      const middle = (low + high) >> 1;
      if (below[middle] <= wanted) low = middle;
      else high = middle;
    }
    const span = below[high] - below[low];
    out[1] = from + ((to - from) * (low + (span > 0 ? (wanted - below[low]) / span : 0))) / TABLE_STEPS;
    out[0] = Math.sqrt(Math.max(0, 1 - out[1] * out[1]));
  };
  const solid = 2 * Math.PI * (from - to);
  const density = (cosine: number) => {
    const step = Math.floor(((from - cosine) / (from - to)) * TABLE_STEPS);
    if (step < 0 || step >= TABLE_STEPS) return 0;
    return ((below[step + 1] - below[step]) / below[TABLE_STEPS]) * (TABLE_STEPS / solid);
  };
  return { angle, density };
}
