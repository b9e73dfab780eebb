import type { ParameterSpec } from '../math/parameter.ts';
import { realRoots } from '../math/real-roots.ts';
import { defineBody, length, upright, type BuiltFace } from './body.ts';
import { revolve, RevolvedArea, type Box, type FaceForm, type Triangles } from './face-form.ts';
import { discFace } from './quadric-face.ts';
import { within } from './sag-face.ts';

/** Sizes of a compound parabolic concentrator. */
export interface ConcentratorSizes {
  /** Radius of the mouth, mm. */
  readonly mouth: number;
  /** From mouth to exit, mm. */
  readonly length: number;
  /** Focal length of the tilted parabola, mm. */
  readonly focus: number;
  /** Area of the mouth over that of the exit: 1/sin²θ, the most that étendue allows. */
  readonly concentration: number;
}

/**
 * Sizes of a compound parabolic concentrator: a = a′/sin θ, L = (a + a′)/tan θ, f = a′(1 + sin θ).
 * R. Winston, J. C. Miñano, P. Benítez, Nonimaging Optics, chapter 4.
 *
 * @param exit - radius of the exit a′, mm
 * @param acceptance - half-angle θ in the medium inside, degrees
 */
export function concentratorSizes(exit: number, acceptance: number): ConcentratorSizes {
  const angle = (acceptance * Math.PI) / 180;
  const mouth = exit / Math.sin(angle);
  return {
    mouth,
    length: (mouth + exit) / Math.tan(angle),
    focus: exit * (1 + Math.sin(angle)),
    concentration: 1 / Math.sin(angle) ** 2,
  };
}

const FINE = 192;

/**
 * The wall of a concentrator, mouth at z = 0, exit at z = L: with h = L − z, s = sin θ, c = cos θ,
 * (r c + h s)² + 2a′(1 + s)² r − 2a′c(2 + s) h − a′²(1 + s)(3 + s) = 0.
 */
export class ConcentratorFace implements FaceForm {
  readonly box: Box;
  readonly #exit: number;
  readonly #sine: number;
  readonly #cosine: number;
  readonly #length: number;
  readonly #sign: number;
  readonly #even: RevolvedArea;
  readonly #roots = new Float64Array(8);

  /** @param sign - 1 where the outside lies away from the axis */
  constructor(exit: number, acceptance: number, sign: 1 | -1) {
    const angle = (acceptance * Math.PI) / 180;
    const { mouth, length: L } = concentratorSizes(exit, acceptance);
    [this.#exit, this.#sine, this.#cosine, this.#length, this.#sign] = [
      exit,
      Math.sin(angle),
      Math.cos(angle),
      L,
      sign,
    ];
    this.box = { min: [-mouth, -mouth, 0], max: [mouth, mouth, L] };
    this.#even = new RevolvedArea(this.#profile(FINE));
  }

  get area(): number {
    return this.#even.total;
  }

  /** Along the parabola by the angle at its focus, from the mouth to the exit. */
  #profile(pieces: number): [number, number][] {
    const angle = Math.atan2(this.#sine, this.#cosine);
    const focus = this.#exit * (1 + this.#sine);
    return Array.from({ length: pieces + 1 }, (_, i): [number, number] => {
      const phi = 2 * angle + (i / pieces) * (Math.PI / 2 - angle);
      const ray = (2 * focus) / (1 - Math.cos(phi));
      return [ray * Math.sin(phi - angle) - this.#exit, this.#length - ray * Math.cos(phi - angle)];
    });
  }

  /** Distance from the axis at a height above the exit. */
  #radius(h: number): number {
    const [s, c, a] = [this.#sine, this.#cosine, this.#exit];
    const half = h * s * c + a * (1 + s) ** 2;
    const rest = h * h * s * s - 2 * a * c * (2 + s) * h - a * a * (1 + s) * (3 + s);
    return -rest / (half + Math.sqrt(half * half - c * c * rest));
  }

  meet(x: number, y: number, z: number, l: number, m: number, n: number, out: Float64Array): number {
    const [from, to] = within(this.box, x, y, z, l, m, n);
    if (!(from <= to)) return 0;
    const [s, c, a] = [this.#sine, this.#cosine, this.#exit];
    // From the middle of its way through the box, in units of the length: coefficients keep their digits.
    const unit = this.#length;
    const middle = (from + to) / 2;
    const [px, py, h] = [x + middle * l, y + middle * m, this.#length - z - middle * n].map((part) => part / unit);
    const e = a / unit;
    const square = [px * px + py * py, 2 * (px * l + py * m), l * l + m * m];
    // A + B r = 0, so A² = B² r².
    const A = [
      square[0] * c * c + h * h * s * s - 2 * e * c * (2 + s) * h - e * e * (1 + s) * (3 + s),
      square[1] * c * c - 2 * h * n * s * s + 2 * e * c * (2 + s) * n,
      square[2] * c * c + n * n * s * s,
    ];
    const B = [2 * h * s * c + 2 * e * (1 + s) ** 2, -2 * n * s * c];
    const B2 = [B[0] * B[0], 2 * B[0] * B[1], B[1] * B[1]];
    const quartic = [0, 0, 0, 0, 0];
    for (let i = 0; i < 3; i++) for (let k = 0; k < 3; k++) quartic[i + k] += A[i] * A[k] - B2[i] * square[k];
    const reach = ((to - from) / 2 / unit) * (1 + 1e-9) + 1e-9;
    const found = realRoots(quartic, -reach, reach, this.#roots);
    let count = 0;
    for (let k = 0; k < found; k++) {
      const t = this.#roots[k];
      // The other sign of r is the other half of the parabola, beyond the axis.
      if (A[0] + t * (A[1] + t * A[2]) > 0) continue;
      const depth = this.#length - (h - t * n) * unit;
      if (depth >= -1e-12 * unit && depth <= this.#length + 1e-12 * unit) out[count++] = middle + t * unit;
    }
    return count;
  }

  normal(x: number, y: number, z: number, out: Float64Array): void {
    const [s, c, a] = [this.#sine, this.#cosine, this.#exit];
    const r = Math.hypot(x, y);
    const h = this.#length - z;
    const along = 2 * (r * c + h * s);
    const outward = along * c + 2 * a * (1 + s) ** 2;
    const up = -(along * s - 2 * a * c * (2 + s));
    const scale = this.#sign / Math.hypot(outward, up);
    out[0] = (x / r) * outward * scale;
    out[1] = (y / r) * outward * scale;
    out[2] = up * scale;
  }

  spread(u: number, v: number, out: Float64Array): void {
    const [, z] = this.#even.at(u);
    const r = this.#radius(this.#length - z);
    out[0] = r * Math.cos(2 * Math.PI * v);
    out[1] = r * Math.sin(2 * Math.PI * v);
    out[2] = z;
  }

  triangles(detail: number): Triangles {
    return revolve(this.#profile(Math.max(8, detail >> 1)), detail, this);
  }
}

const NUMBERS: readonly ParameterSpec[] = [
  length('exit', 'Exit radius', 'Of the narrow end.'),
  {
    id: 'acceptance',
    title: 'Acceptance half-angle',
    meaning:
      'Light within this angle to the axis, counted inside, comes out at the narrow end; mouth and length follow from it.',
    unit: '°',
    kind: 'angle',
    above: 0,
    below: 90,
    transform: 'value',
  },
];

const SHAPE =
  'parabola turned about z, its wide mouth at z = 0: a compound parabolic concentrator, or a collimator where light starts at its narrow end.';

/** A compound parabolic concentrator of a clear material. */
export interface Concentrator {
  readonly kind: 'concentrator';
  readonly exit: number;
  readonly acceptance: number;
}

export const concentrator = defineBody<Concentrator>({
  kind: 'concentrator',
  title: 'Concentrator, filled',
  meaning: `A solid tilted ${SHAPE} Faces: mouth, exit, wall.`,
  first: { kind: 'concentrator', exit: 2, acceptance: 30 },
  sketch: 'M3 1c8 0 12 2 14 4v4c-2 2 -6 4 -14 4z',
  solid: true,
  parameters: NUMBERS,
  build({ exit, acceptance }): readonly BuiltFace[] {
    const { mouth, length: L } = concentratorSizes(exit, acceptance);
    return [
      upright('mouth', discFace(0, 0, mouth, -1)),
      upright('exit', discFace(L, 0, exit, 1)),
      upright('wall', new ConcentratorFace(exit, acceptance, 1)),
    ];
  },
});

/** The mirror of a compound parabolic concentrator. */
export interface ConcentratorShell {
  readonly kind: 'concentrator_shell';
  readonly exit: number;
  readonly acceptance: number;
}

export const concentratorShell = defineBody<ConcentratorShell>({
  kind: 'concentrator_shell',
  title: 'Concentrator, hollow',
  meaning: `A wall without thickness: a tilted ${SHAPE} Face: wall, seen from both sides.`,
  first: { kind: 'concentrator_shell', exit: 2, acceptance: 30 },
  finish: 'mirror',
  sketch: 'M3 1c8 0 12 2 14 4v1c-2 -2 -6 -4 -14 -4z M3 13c8 0 12 -2 14 -4v-1c-2 2 -6 4 -14 4z',
  solid: false,
  parameters: NUMBERS,
  build: ({ exit, acceptance }) => [upright('wall', new ConcentratorFace(exit, acceptance, 1))],
});
