/** What `core/src/physics` compiles to, for the test that compares both languages, with the random numbers of a ray. */
export * from '../src/physics/fresnel.ts';
export * from '../src/physics/films.ts';
export * from '../src/physics/directions.ts';
export * from '../src/physics/scatter-laws.ts';
export * from '../src/physics/cells.ts';
export * from '../src/physics/tables.ts';
export { drawOf, mixBits } from './scene/bits';
