import { expect } from 'chai';
import { runSequential } from './sequential.ts';

describe('the sequential benchmark', () => {
  it('gets as many rays through as the native program does', () => {
    // The native yardstick prints 985902 of its million rays.
    expect(runSequential(1_000_000).alive).to.equal(985_902);
  });
});
