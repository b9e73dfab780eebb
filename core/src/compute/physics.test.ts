import { expect } from 'chai';
import fc from 'fast-check';
import { PHYSICS_KERNEL_BYTES } from './physics-kernel.generated.ts';
import { compileKernel } from './wasm.ts';
import { KeyedRandom, mixBits } from '../math/random.ts';
import * as cells from '../physics/cells.ts';
import * as directions from '../physics/directions.ts';
import * as films from '../physics/films.ts';
import * as fresnel from '../physics/fresnel.ts';
import * as laws from '../physics/scatter-laws.ts';
import * as tables from '../physics/tables.ts';

type Module = Readonly<Record<string, unknown>>;
type Calls = Readonly<Record<string, ((...numbers: number[]) => number | boolean | undefined) & { value?: number }>>;

const compiled = compileKernel(PHYSICS_KERNEL_BYTES)!.instantiate({}) as unknown as Calls;
const number = (min: number, max: number) => fc.double({ min, max, noNaN: true });
const [unit, index, cosine] = [number(1e-9, 1 - 1e-9), number(1, 2.5), number(0, 1)];
const signed = number(-1, 1);

/** A function of one of the files: numbers that it takes, and the variables that hold what it finds. */
type Case = readonly [name: string, numbers: readonly fc.Arbitrary<number>[], results: readonly string[]];

const AMPLITUDES = ['SRe', 'SIm', 'PRe', 'PIm'].flatMap((part) => [`reflected${part}`, `transmitted${part}`]);
const SHARES = ['reflectedS', 'reflectedP', 'throughS', 'throughP'];
const DIRECTION = ['toL', 'toM', 'toN'];

const CASES: readonly (readonly [module: Module, cases: readonly Case[]])[] = [
  [
    fresnel,
    [
      ['bareFace', [index, index, cosine], [...AMPLITUDES, ...SHARES]],
      ['metalFace', [index, number(0.02, 4), number(0, 8), cosine], [...AMPLITUDES, ...SHARES]],
      ['fixedFace', [number(0, 0.5), number(0, 0.5), index, index, cosine], SHARES],
    ],
  ],
  [
    films,
    [
      [
        'admittance',
        [index, number(0, 3), cosine, fc.constantFrom(0, 1)],
        ['slantRe', 'slantIm', 'admittanceRe', 'admittanceIm'],
      ],
      ['beginFilms', [], []],
      ['addFilm', [number(0, 4)], []],
      ['endFilms', [index], ['filmRe', 'filmIm', 'filmReflected', 'filmThrough']],
    ],
  ],
  [
    directions,
    [
      ['reflect', [signed, signed, signed, signed, signed, signed, cosine], DIRECTION],
      ['refract', [signed, signed, signed, signed, signed, signed, cosine, number(0.4, 2)], DIRECTION],
      ['about', [signed, signed, signed, signed, signed, signed], DIRECTION],
      ['across', [signed, signed, signed, signed, signed, signed], ['acrossU', 'acrossV']],
      ['lift', [signed, signed], DIRECTION],
      ['drawEven', [unit, unit], DIRECTION],
      ['drawBeside', [signed, signed, unit, unit], DIRECTION],
      ['gaussianRadius', [unit, unit], []],
      ['drawCone', [number(0, 200), number(-0.7, 0.7), number(-0.7, 0.7), unit, unit], DIRECTION],
      ['drawTurned', [signed, signed, signed, signed, unit], DIRECTION],
      ['drawToward', [number(1, 9), signed, signed, unit, unit, unit], DIRECTION],
      ['coneAbout', [number(1, 9), signed, signed, unit, signed, signed, signed], []],
    ],
  ],
  [
    laws,
    [
      ['evenDensity', [signed, signed], []],
      ['gaussianDensity', [unit, signed, signed, signed, signed, unit], []],
      ['coneDensity', [number(0, 200), signed, signed, signed, signed, unit], []],
      ['lobeDensity', [unit, signed, signed, unit], []],
      ['distanceOf', [signed, signed, signed, signed], []],
      ['abgBsdf', [unit, unit, number(0, 4), number(0, 2)], []],
      ['shoulderBsdf', [unit, unit, number(-4, 0), number(0, 2)], []],
      ['grazingPlace', [unit, number(1, 200)], []],
      ['volumeCosine', [number(-0.99, 0.99), unit], []],
      ['freePath', [unit, unit], []],
    ],
  ],
  [
    cells,
    [
      ['placeOnMap', [fc.constantFrom(0, 1, 2), number(0.5, 3), signed, signed, signed], ['mapX', 'mapY']],
      ['cellAt', [signed, signed, signed, signed, number(1, 50), number(1, 50), fc.nat(40), fc.nat(40)], []],
    ],
  ],
  [
    tables,
    [
      ['between', [signed, signed, unit], []],
      ['cubic', [signed, signed, signed, signed, number(0, 3)], []],
      ['coatedPlace', [index, index, cosine], []],
    ],
  ],
];

/** Units in the last place that both languages may differ by where they call roots, powers, sines and logarithms of their own. */
const CLOSE = 1e-12;

function expectAlike(a: number, b: number, what: string): void {
  if (Number.isNaN(a) || Number.isNaN(b)) expect(Number.isNaN(b), what).to.equal(Number.isNaN(a));
  else if (a !== b) expect(Math.abs(a - b), `${what}: ${a} and ${b}`).to.be.below(CLOSE * Math.max(1, Math.abs(a)));
}

describe('Physics shared by both languages', () => {
  for (const [module, cases] of CASES)
    for (const [name, numbers, results] of cases)
      it(`${name} is the same compiled`, () => {
        const own = module[name] as (...numbers: unknown[]) => number | boolean | undefined;
        const flags = name === 'admittance' ? 3 : -1;
        fc.assert(
          fc.property(fc.tuple(...numbers), (given) => {
            const a = own(...given.map((value, i) => (i === flags ? value !== 0 : value)));
            const b = compiled[name](...given);
            if (a !== undefined) expectAlike(Number(a), Number(b), name);
            for (const result of results) {
              const [one, other] = [module[result] as number, compiled[result].value!];
              // The root of what two cosines leave: near the horizon its square is as exact as they are, the root is not.
              if (result === 'toN' && Math.min(one, other) >= 0) expectAlike(one * one, other * other, 'square of toN');
              else expectAlike(one, other, result);
            }
          }),
          { seed: 20261202, numRuns: Number(process.env.ULVEX_DRAWS ?? 400) },
        );
      });

  it('every function is compared', () => {
    const compared = new Set(CASES.flatMap(([, cases]) => cases.map(([name]) => name)));
    const rest = CASES.flatMap(([module]) => Object.keys(module)).filter(
      (name) => typeof CASES.map(([module]) => module[name]).find(Boolean) === 'function' && !compared.has(name),
    );
    // Those have no numbers of their own, or are part of the others.
    expect(rest.sort()).to.deep.equal(['reflectedShare', 'setDirection', 'slant', 'throughShare']);
  });

  it('random numbers are the same, bit for bit', () => {
    const random = new KeyedRandom();
    fc.assert(
      fc.property(fc.integer(), fc.integer(), fc.nat(1e6), (a, b, count) => {
        expect((compiled.mixBits(a) as number) >>> 0).to.equal(mixBits(a) >>> 0);
        Object.assign(random, { a, b, count });
        expect(compiled.drawOf(a, b, count + 1)).to.equal(random.uniform());
      }),
      { numRuns: 2000 },
    );
  });
});

describe('Amplitudes at a face', () => {
  it('have the shares of the flux as their squares, with n₂c₂/n₁c₁ for what goes through', () => {
    fc.assert(
      fc.property(index, index, number(0.01, 1), (n1, n2, c1) => {
        fresnel.bareFace(n1, n2, c1);
        const sine = (n1 / n2) * Math.sqrt(1 - c1 * c1);
        expect(fresnel.reflectedSRe ** 2 + fresnel.reflectedSIm ** 2).to.be.closeTo(fresnel.reflectedS, 1e-12);
        expect(fresnel.reflectedPRe ** 2 + fresnel.reflectedPIm ** 2).to.be.closeTo(fresnel.reflectedP, 1e-12);
        if (!(sine < 1)) return;
        const ratio = (n2 * Math.sqrt(1 - sine * sine)) / (n1 * c1);
        expect(ratio * fresnel.transmittedSRe ** 2).to.be.closeTo(fresnel.throughS, 1e-12);
        expect(ratio * fresnel.transmittedPRe ** 2).to.be.closeTo(fresnel.throughP, 1e-12);
      }),
    );
  });

  it('have r_p(0) = −r_s(0), and the field across the face goes on', () => {
    for (const [n1, n2] of [
      [1, 1.5],
      [1.5, 1],
    ]) {
      fresnel.bareFace(n1, n2, 1);
      expect(fresnel.reflectedPRe).to.equal(-fresnel.reflectedSRe);
      expect(1 + fresnel.reflectedSRe).to.be.closeTo(fresnel.transmittedSRe, 1e-15);
    }
    fresnel.metalFace(1, 0.96, 6.69, 1);
    expect(fresnel.reflectedPRe).to.be.closeTo(-fresnel.reflectedSRe, 1e-15);
    expect(fresnel.reflectedPIm).to.be.closeTo(-fresnel.reflectedSIm, 1e-15);
  });

  it('turn by the phases of total reflection in closed form: a rhomb of index 1.51 makes 45° twice at 54.6°', () => {
    // tan(δ/2) with δ = δ_p − δ_s − π by the signs here: cos θ √(sin²θ − 1/N²)/sin²θ (Born and Wolf, 1.5.4).
    const theta = (54.6167 * Math.PI) / 180;
    fresnel.bareFace(1.51, 1, Math.cos(theta));
    const s = Math.atan2(fresnel.reflectedSIm, fresnel.reflectedSRe);
    const p = Math.atan2(fresnel.reflectedPIm, fresnel.reflectedPRe);
    const apart = ((s - p + 3 * Math.PI) % (2 * Math.PI)) - Math.PI;
    const wanted =
      2 * Math.atan((Math.cos(theta) * Math.sqrt(Math.sin(theta) ** 2 - 1 / 1.51 ** 2)) / Math.sin(theta) ** 2);
    expect(Math.abs(apart)).to.be.closeTo(wanted, 1e-12);
    expect((wanted * 180) / Math.PI).to.be.closeTo(45, 0.01); // the angle is given to a minute of arc
  });

  it('of films are those of the bare face without one, with its sign in the plane of incidence turned', () => {
    for (const c1 of [1, 0.6, 0.2]) {
      fresnel.bareFace(1, 1.7, c1);
      for (const within of [false, true]) {
        films.admittance(1.7, 0, Math.sqrt(1 - c1 * c1), within);
        films.beginFilms();
        films.endFilms(within ? 1 / c1 : c1);
        expect(films.filmRe).to.be.closeTo(within ? -fresnel.reflectedPRe : fresnel.reflectedSRe, 1e-14);
      }
    }
  });
});
