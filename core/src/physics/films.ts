/// <reference path="./numbers.d.ts" />
/**
 * Stacks of films by characteristic matrices (H. A. Macleod, Thin-Film Optical Filters, chapter 2), a film at a time, in the signs of
 * `fresnel.ts`: fields vary as exp(−iωt), N = n + ik. TypeScript and AssemblyScript both compile this file.
 *
 * (B, C) = Π [cos δ, −(i/η) sin δ; −iη sin δ, cos δ] (1, η_m) with η_s = N cos θ, η_p = N/cos θ, δ = 2πNd cos θ/λ.
 */

/** N cos θ of the last medium asked for. */
export let slantRe: f64 = 0;
export let slantIm: f64 = 0;

/** N cos θ of a medium n + ik for light that has n₀ sin θ₀ = `along` along the face, on the branch that decays. */
export function slant(n: f64, k: f64, along: f64): void {
  const re = n * n - k * k - along * along;
  const im = 2 * n * k;
  const size = Math.sqrt(re * re + im * im);
  // The larger part by a root, the other by im = 2uv: the difference under a root of its own would lose its digits.
  if (re >= 0) {
    slantRe = Math.sqrt((size + re) / 2);
    slantIm = slantRe > 0 ? im / (2 * slantRe) : 0;
  } else {
    slantIm = Math.sqrt((size - re) / 2);
    slantRe = im / (2 * slantIm);
  }
}

/** η of the last medium asked for. */
export let admittanceRe: f64 = 0;
export let admittanceIm: f64 = 0;

/** η of a medium n + ik, in (`within`) or across the plane of incidence; `slant` is called. */
export function admittance(n: f64, k: f64, along: f64, within: bool): void {
  slant(n, k, along);
  if (!within) {
    admittanceRe = slantRe;
    admittanceIm = slantIm;
    return;
  }
  const re = n * n - k * k;
  const im = 2 * n * k;
  const size = slantRe * slantRe + slantIm * slantIm;
  admittanceRe = (re * slantRe + im * slantIm) / size;
  admittanceIm = (im * slantRe - re * slantIm) / size;
}

let bRe: f64 = 1;
let bIm: f64 = 0;
let cRe: f64 = 0;
let cIm: f64 = 0;
/** Re η_m. */
let lastRe: f64 = 0;
/** B and C are kept times e^(−damping): behind a thick film that light does not get through they would grow past all numbers. */
let damping: f64 = 0;

/** Begins with the medium behind all films, whose η was asked for last. */
export function beginFilms(): void {
  bRe = 1;
  bIm = 0;
  cRe = admittanceRe;
  cIm = admittanceIm;
  lastRe = admittanceRe;
  damping = 0;
}

/** Adds a film before those so far, whose η was asked for last; `scale` is 2πd/λ. */
export function addFilm(scale: f64): void {
  const dr = scale * slantRe;
  const di = scale * slantIm;
  // cosh and sinh, times e^(−|Im δ|).
  const fall = Math.exp(-2 * Math.abs(di));
  const ch = (1 + fall) / 2;
  const sh = di < 0 ? (fall - 1) / 2 : (1 - fall) / 2;
  damping += Math.abs(di);
  const cosR = Math.cos(dr) * ch;
  const cosI = -Math.sin(dr) * sh;
  const sinR = Math.sin(dr) * ch;
  const sinI = Math.cos(dr) * sh;
  const er = admittanceRe;
  const ei = admittanceIm;
  const size = er * er + ei * ei;
  // −(i/η) sin δ and −iη sin δ
  const qr = (sinI * er - sinR * ei) / size;
  const qi = -(sinR * er + sinI * ei) / size;
  const wr = er * sinI + ei * sinR;
  const wi = -(er * sinR - ei * sinI);
  const nbr = cosR * bRe - cosI * bIm + qr * cRe - qi * cIm;
  const nbi = cosR * bIm + cosI * bRe + qr * cIm + qi * cRe;
  const ncr = wr * bRe - wi * bIm + cosR * cRe - cosI * cIm;
  const nci = wr * bIm + wi * bRe + cosR * cIm + cosI * cRe;
  bRe = nbr;
  bIm = nbi;
  cRe = ncr;
  cIm = nci;
}

/** Amplitude reflected, r = (η₀B − C)/(η₀B + C), of tangential fields: for light in the plane of incidence `fresnel.ts` has −r. */
export let filmRe: f64 = 0;
export let filmIm: f64 = 0;
/** Shares of the flux: R = |r|², T = 4η₀ Re η_m/|η₀B + C|². */
export let filmReflected: f64 = 0;
export let filmThrough: f64 = 0;

/** Ends at the clear medium that light comes from, of admittance η₀. */
export function endFilms(first: f64): void {
  const dr = first * bRe + cRe;
  const di = first * bIm + cIm;
  const er = first * bRe - cRe;
  const ei = first * bIm - cIm;
  const size = dr * dr + di * di;
  filmRe = (er * dr + ei * di) / size;
  filmIm = (ei * dr - er * di) / size;
  filmReflected = (er * er + ei * ei) / size;
  filmThrough = ((4 * first * lastRe) / size) * Math.exp(-2 * damping);
}
