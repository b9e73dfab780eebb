import { expect } from 'chai';
import { constantsOf, offsetsOf, SCENE_COLUMNS, SCENE_RECORDS, TRACE_COLUMNS } from '../core/kernels/records.mjs';

const BYTES: Readonly<Record<string, number>> = { f64: 8, f32: 4, i32: 4, u32: 4, u16: 2, i16: 2, u8: 1 };

describe('Records of the compiled tracers', () => {
  for (const record of [...SCENE_RECORDS, SCENE_COLUMNS, TRACE_COLUMNS])
    it(`${record.name}: no field overlaps another, and none leaves a hole`, () => {
      const { offsets, size } = offsetsOf(record);
      const rays = 'rays' in record ? (record.rays as number) : 1;
      const used = new Uint8Array(size);
      for (const [field, type, , count = 1] of record.fields) {
        const from = offsets.get(field)!;
        expect(from % BYTES[type], `${field} is aligned`).to.equal(0);
        for (let i = from; i < from + BYTES[type] * count * rays; i++) used[i]++;
      }
      expect(Math.max(...used)).to.equal(1);
      const last = used.lastIndexOf(1);
      expect(used.subarray(0, last + 1).every((times) => times === 1)).to.equal(true);
      expect(size - last - 1, 'only the end is filled up').to.be.below(
        'align' in record ? (record.align as number) : 1,
      );
    });

  it('refuses a hole, a name that stands twice, and a type that is none', () => {
    const record = (...fields: unknown[]) => ({ name: 'TEST', meaning: '', fields }) as never;
    expect(() => offsetsOf(record(['A', 'i32', ''], ['B', 'f64', '']))).to.throw('TEST_B would leave a hole');
    expect(() => offsetsOf(record(['A', 'i32', ''], ['A', 'i32', '']))).to.throw('TEST_A stands twice');
    expect(() => offsetsOf(record(['A', 'f16', '']))).to.throw('there is no type f16');
  });

  it('are written as constants with their meaning', () => {
    const text = constantsOf([
      {
        name: 'PAIR',
        meaning: 'Two.',
        align: 16,
        fields: [
          ['A', 'f64', 'First.'],
          ['B', 'i32', ''],
        ],
      },
    ]);
    expect(text).to.include('/** First. */\nexport const PAIR_A = 0;\nexport const PAIR_B = 8;');
    expect(text).to.include('export const PAIR_SIZE = 16;');
  });
});
