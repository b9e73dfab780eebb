import { expect } from 'chai';
import type { PackedForm } from '../math/quadratic-response.ts';
import { RandomStream } from '../math/random.ts';
import { FORM_BLOCK, formBlocks } from './quadratic-forms.ts';

const N = 7;
const stream = new RandomStream(5, 1);
const some = (count: number) => Float64Array.from({ length: count }, () => 2 * stream.uniform() - 1);
const FORMS: readonly PackedForm[] = [
  { value: 3, slopes: some(N), half: some((N * (N + 1)) / 2) },
  { value: -1, slopes: some(N), half: new Float64Array(0) },
  { value: 0, slopes: new Float64Array(N), half: some((N * (N + 1)) / 2) },
];

describe('quadratic forms at blocks of places', () => {
  it('are the same in the kernel, in TypeScript and by the definition', () => {
    const [fast, plain] = [formBlocks(FORMS, N), formBlocks(FORMS, N, false)];
    const places = Array.from({ length: N }, () => some(FORM_BLOCK));
    for (const blocks of [fast, plain]) {
      places.forEach((row, i) => blocks.x[i].set(row));
      blocks.evaluate();
    }
    FORMS.forEach(({ value, slopes, half }, f) => {
      for (let b = 0; b < FORM_BLOCK; b++) {
        let expected = value;
        for (let i = 0, at = 0; i < N; i++) {
          expected += slopes[i] * places[i][b];
          if (half.length > 0) for (let j = 0; j <= i; j++) expected += half[at++] * places[i][b] * places[j][b];
        }
        expect(fast.values[f][b], `form ${f}, place ${b}`).to.be.closeTo(expected, 1e-13);
        expect(fast.values[f][b]).to.equal(plain.values[f][b]);
      }
    });
  });
});
