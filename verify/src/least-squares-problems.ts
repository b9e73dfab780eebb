/**
 * The classic nonlinear least-squares test problems of J. J. Moré, B. S. Garbow and K. E. Hillstrom, “Testing Unconstrained Optimization
 * Software”, ACM Trans. Math. Software 7, 17 (1981), with their numbers there, their standard starts and documented minima of Σf².
 */
export interface TestProblem {
  readonly name: string;
  readonly start: readonly number[];
  readonly f: (x: readonly number[]) => number[];
  /** Sums of squares at the documented minima, local ones included. */
  readonly minima: readonly number[];
}

const { exp, sin, cos, atan, sqrt, PI } = Math;
const range = <T>(count: number, make: (i: number) => T): T[] => Array.from({ length: count }, (_, k) => make(k + 1));
const sum = (values: readonly number[]) => values.reduce((all, value) => all + value, 0);

const BARD = [0.14, 0.18, 0.22, 0.25, 0.29, 0.32, 0.35, 0.39, 0.37, 0.58, 0.73, 0.96, 1.34, 2.1, 4.39];
const GAUSSIAN = [
  0.0009, 0.0044, 0.0175, 0.054, 0.1295, 0.242, 0.3521, 0.3989, 0.3521, 0.242, 0.1295, 0.054, 0.0175, 0.0044, 0.0009,
];
const MEYER = [34780, 28610, 23650, 19630, 16370, 13720, 11540, 9744, 8261, 7030, 6005, 5147, 4427, 3820, 3307, 2872];
const KOWALIK = [0.1957, 0.1947, 0.1735, 0.16, 0.0844, 0.0627, 0.0456, 0.0342, 0.0323, 0.0235, 0.0246];
const KOWALIK_AT = [4, 2, 1, 0.5, 0.25, 0.167, 0.125, 0.1, 0.0833, 0.0714, 0.0625];
const OSBORNE_1 = [
  0.844, 0.908, 0.932, 0.936, 0.925, 0.908, 0.881, 0.85, 0.818, 0.784, 0.751, 0.718, 0.685, 0.658, 0.628, 0.603, 0.58,
  0.558, 0.538, 0.522, 0.506, 0.49, 0.478, 0.467, 0.457, 0.448, 0.438, 0.431, 0.424, 0.42, 0.414, 0.411, 0.406,
];
const OSBORNE_2 = [
  1.366, 1.191, 1.112, 1.013, 0.991, 0.885, 0.831, 0.847, 0.786, 0.725, 0.746, 0.679, 0.608, 0.655, 0.616, 0.606, 0.602,
  0.626, 0.651, 0.724, 0.649, 0.649, 0.694, 0.644, 0.624, 0.661, 0.612, 0.558, 0.533, 0.495, 0.5, 0.423, 0.395, 0.375,
  0.372, 0.391, 0.396, 0.405, 0.428, 0.429, 0.523, 0.562, 0.607, 0.653, 0.672, 0.708, 0.633, 0.668, 0.645, 0.632, 0.591,
  0.559, 0.597, 0.625, 0.739, 0.71, 0.729, 0.72, 0.636, 0.581, 0.428, 0.292, 0.162, 0.098, 0.054,
];

const watson = (n: number, minimum: number): TestProblem => ({
  name: `20 Watson, ${n}`,
  start: new Array<number>(n).fill(0),
  f: (x) => [
    ...range(29, (i) => {
      const t = i / 29;
      const slope = sum(x.map((value, j) => (j === 0 ? 0 : j * value * t ** (j - 1))));
      return slope - sum(x.map((value, j) => value * t ** j)) ** 2 - 1;
    }),
    x[0],
    x[1] - x[0] ** 2 - 1,
  ],
  minima: [minimum],
});

export const TEST_PROBLEMS: readonly TestProblem[] = [
  { name: '1 Rosenbrock', start: [-1.2, 1], f: ([a, b]) => [10 * (b - a * a), 1 - a], minima: [0] },
  {
    name: '2 Freudenstein and Roth',
    start: [0.5, -2],
    f: ([a, b]) => [-13 + a + ((5 - b) * b - 2) * b, -29 + a + ((b + 1) * b - 14) * b],
    minima: [0, 48.9842],
  },
  {
    name: '3 Powell, badly scaled',
    start: [0, 1],
    f: ([a, b]) => [1e4 * a * b - 1, exp(-a) + exp(-b) - 1.0001],
    minima: [0],
  },
  { name: '4 Brown, badly scaled', start: [1, 1], f: ([a, b]) => [a - 1e6, b - 2e-6, a * b - 2], minima: [0] },
  {
    name: '5 Beale',
    start: [1, 1],
    f: ([a, b]) => [1.5, 2.25, 2.625].map((y, i) => y - a * (1 - b ** (i + 1))),
    minima: [0],
  },
  {
    name: '6 Jennrich and Sampson',
    start: [0.3, 0.4],
    f: ([a, b]) => range(10, (i) => 2 + 2 * i - (exp(i * a) + exp(i * b))),
    minima: [124.362],
  },
  {
    name: '7 Helical valley',
    start: [-1, 0, 0],
    f: ([a, b, c]) => {
      const angle = a === 0 ? 0.25 * Math.sign(b) : atan(b / a) / (2 * PI) + (a < 0 ? 0.5 : 0);
      return [10 * (c - 10 * angle), 10 * (sqrt(a * a + b * b) - 1), c];
    },
    minima: [0],
  },
  {
    name: '8 Bard',
    start: [1, 1, 1],
    f: ([a, b, c]) => BARD.map((y, k) => y - (a + (k + 1) / ((15 - k) * b + Math.min(k + 1, 15 - k) * c))),
    minima: [8.21487e-3, 17.4286],
  },
  {
    name: '9 Gaussian',
    start: [0.4, 1, 0],
    f: ([a, b, c]) => GAUSSIAN.map((y, k) => a * exp((-b * ((7 - k) / 2 - c) ** 2) / 2) - y),
    minima: [1.12793e-8],
  },
  {
    name: '10 Meyer',
    start: [0.02, 4000, 250],
    f: ([a, b, c]) => MEYER.map((y, k) => a * exp(b / (50 + 5 * k + c)) - y),
    minima: [87.9458],
  },
  {
    name: '11 Gulf',
    start: [5, 2.5, 0.15],
    f: ([a, b, c]) =>
      range(99, (i) => exp(-(Math.abs(25 + (-50 * Math.log(i / 100)) ** (2 / 3) - b) ** c) / a) - i / 100),
    minima: [0],
  },
  {
    name: '12 Box',
    start: [0, 10, 20],
    f: ([a, b, c]) => range(10, (i) => exp(-0.1 * i * a) - exp(-0.1 * i * b) - c * (exp(-0.1 * i) - exp(-i))),
    minima: [0],
  },
  {
    name: '13 Powell, singular',
    start: [3, -1, 0, 1],
    f: ([a, b, c, d]) => [a + 10 * b, sqrt(5) * (c - d), (b - 2 * c) ** 2, sqrt(10) * (a - d) ** 2],
    minima: [0],
  },
  {
    name: '14 Wood',
    start: [-3, -1, -3, -1],
    f: ([a, b, c, d]) => [
      10 * (b - a * a),
      1 - a,
      sqrt(90) * (d - c * c),
      1 - c,
      sqrt(10) * (b + d - 2),
      (b - d) / sqrt(10),
    ],
    minima: [0],
  },
  {
    name: '15 Kowalik and Osborne',
    start: [0.25, 0.39, 0.415, 0.39],
    f: ([a, b, c, d]) =>
      KOWALIK.map(
        (y, k) => y - (a * (KOWALIK_AT[k] ** 2 + KOWALIK_AT[k] * b)) / (KOWALIK_AT[k] ** 2 + KOWALIK_AT[k] * c + d),
      ),
    minima: [3.07505e-4, 1.02734e-3],
  },
  {
    name: '16 Brown and Dennis',
    start: [25, 5, -5, -1],
    f: ([a, b, c, d]) => range(20, (i) => (a + (i / 5) * b - exp(i / 5)) ** 2 + (c + d * sin(i / 5) - cos(i / 5)) ** 2),
    minima: [85822.2],
  },
  {
    name: '17 Osborne 1',
    start: [0.5, 1.5, -1, 0.01, 0.02],
    f: ([a, b, c, d, e]) => OSBORNE_1.map((y, k) => y - (a + b * exp(-10 * k * d) + c * exp(-10 * k * e))),
    minima: [5.46489e-5],
  },
  {
    name: '18 Biggs',
    start: [1, 2, 1, 1, 1, 1],
    f: ([a, b, c, d, e, g]) =>
      range(13, (i) => {
        const t = i / 10;
        return c * exp(-t * a) - d * exp(-t * b) + g * exp(-t * e) - (exp(-t) - 5 * exp(-i) + 3 * exp(-4 * t));
      }),
    minima: [5.65565e-3, 0],
  },
  {
    name: '19 Osborne 2',
    start: [1.3, 0.65, 0.65, 0.7, 0.6, 3, 5, 7, 2, 4.5, 5.5],
    f: (x) =>
      OSBORNE_2.map((y, k) => {
        const t = k / 10;
        return (
          y -
          (x[0] * exp(-t * x[4]) +
            x[1] * exp(-((t - x[8]) ** 2) * x[5]) +
            x[2] * exp(-((t - x[9]) ** 2) * x[6]) +
            x[3] * exp(-((t - x[10]) ** 2) * x[7]))
        );
      }),
    minima: [4.01377e-2],
  },
  watson(6, 2.28767e-3),
  watson(9, 1.39976e-6),
  watson(12, 4.72238e-10),
  {
    name: '23 Penalty 1',
    start: [1, 2, 3, 4],
    f: (x) => [...x.map((value) => sqrt(1e-5) * (value - 1)), sum(x.map((value) => value * value)) - 0.25],
    minima: [2.24997e-5],
  },
  {
    name: '24 Penalty 2',
    start: [0.5, 0.5, 0.5, 0.5],
    f: (x) => {
      const n = x.length;
      const at = (i: number) => x[i - 1];
      const a = sqrt(1e-5);
      return [
        at(1) - 0.2,
        ...range(n - 1, (k) => a * (exp(at(k + 1) / 10) + exp(at(k) / 10) - exp((k + 1) / 10) - exp(k / 10))),
        ...range(n - 1, (k) => a * (exp(at(k + 1) / 10) - exp(-1 / 10))),
        sum(x.map((value, k) => (n - k) * value * value)) - 1,
      ];
    },
    minima: [9.37629e-6],
  },
  {
    name: '25 Variably dimensioned',
    start: range(10, (i) => 1 - i / 10),
    f: (x) => {
      const s = sum(x.map((value, k) => (k + 1) * (value - 1)));
      return [...x.map((value) => value - 1), s, s * s];
    },
    minima: [0],
  },
  {
    name: '26 Trigonometric',
    start: new Array<number>(10).fill(0.1),
    f: (x) => x.map((value, k) => x.length - sum(x.map(cos)) + (k + 1) * (1 - cos(value)) - sin(value)),
    minima: [0, 2.79506e-5],
  },
  {
    name: '27 Brown, almost linear',
    start: new Array<number>(10).fill(0.5),
    f: (x) =>
      x.map((value, k) =>
        k === x.length - 1 ? x.reduce((all, one) => all * one, 1) - 1 : value + sum([...x]) - (x.length + 1),
      ),
    minima: [0, 1],
  },
  {
    name: '28 Discrete boundary value',
    start: range(10, (i) => (i / 11) * (i / 11 - 1)),
    f: (x) =>
      x.map(
        (value, k) =>
          2 * value - (x[k - 1] ?? 0) - (x[k + 1] ?? 0) + ((1 / 11) ** 2 * (value + (k + 1) / 11 + 1) ** 3) / 2,
      ),
    minima: [0],
  },
  {
    name: '29 Discrete integral equation',
    start: range(10, (i) => (i / 11) * (i / 11 - 1)),
    f: (x) => {
      const h = 1 / 11;
      const cube = x.map((value, k) => (value + (k + 1) * h + 1) ** 3);
      return x.map((value, k) => {
        const t = (k + 1) * h;
        const before = sum(cube.map((one, j) => (j <= k ? (j + 1) * h * one : 0)));
        const behind = sum(cube.map((one, j) => (j > k ? (1 - (j + 1) * h) * one : 0)));
        return value + (h * ((1 - t) * before + t * behind)) / 2;
      });
    },
    minima: [0],
  },
  {
    name: '30 Broyden, tridiagonal',
    start: new Array<number>(10).fill(-1),
    f: (x) => x.map((value, k) => (3 - 2 * value) * value - (x[k - 1] ?? 0) - 2 * (x[k + 1] ?? 0) + 1),
    minima: [0],
  },
  {
    name: '31 Broyden, banded',
    start: new Array<number>(10).fill(-1),
    f: (x) =>
      x.map(
        (value, k) =>
          value * (2 + 5 * value * value) +
          1 -
          sum(x.map((one, j) => (j !== k && j >= k - 5 && j <= k + 1 ? one * (1 + one) : 0))),
      ),
    minima: [0],
  },
  {
    name: '32 Linear, full rank',
    start: new Array<number>(5).fill(1),
    f: (x) => range(10, (i) => (i <= 5 ? x[i - 1] : 0) - (2 / 10) * sum([...x]) - 1),
    minima: [5],
  },
  {
    name: '33 Linear, rank 1',
    start: new Array<number>(5).fill(1),
    f: (x) => range(10, (i) => i * sum(x.map((value, j) => (j + 1) * value)) - 1),
    minima: [(10 * 9) / (2 * 21)],
  },
  {
    name: '35 Chebyquad',
    start: range(8, (i) => i / 9),
    f: (x) =>
      range(8, (i) => {
        const mean =
          sum(
            x.map((value) => {
              let [before, now] = [1, 2 * value - 1];
              for (let k = 1; k < i; k++) [before, now] = [now, 2 * (2 * value - 1) * now - before];
              return now;
            }),
          ) / x.length;
        return mean - (i % 2 === 0 ? -1 / (i * i - 1) : 0);
      }),
    minima: [3.51687e-3],
  },
];
