import type { CompiledLaw } from '../emission/laws/law.ts';
import { compileLaw } from '../emission/laws/registry.ts';
import { orderedStart } from '../emission/order.ts';
import { onFace, type PlainRegion, type Start } from '../emission/regions/region.ts';
import { compileRegion } from '../emission/regions/registry.ts';
import { lumensPerWatt } from '../light/luminous.ts';
import { movePoint, turnDirection, type Rigid, type Triple } from '../math/rigid.ts';
import { about, drawToward, toL, toM, toN } from '../physics/directions.ts';
import type { Scene, Source } from '../project/scene.ts';
import type { Finding } from '../sequence/lens-model.ts';
import type { SceneFace } from './scene-model.ts';
import { compileAims, type Aim } from './aims.ts';
import { standingOf, type Standing } from './standing.ts';

/** Coordinates of the unit cube that a launch takes: two for the place, two for the direction, one for the wavelength. */
export const LAUNCH_DIMENSIONS = 5;

/** A source made ready. */
export interface CompiledSource {
  readonly id: string;
  /** W. */
  readonly watts: number;
  /** Indices of its wavelengths. */
  readonly waves: readonly number[];
  /**
   * Writes a ray in the coordinates of the scene into `out`: x, y, z, l, m, n, and its flux over that of a ray of even shares.
   *
   * @param u - a point of the unit cube
   * @returns index of its wavelength
   */
  launch(u: Float64Array, out: Float64Array): number;
  /** What the compiled tracer needs to launch its rays by itself; left out by what only its own TypeScript can launch. */
  readonly plain?: PlainSource | undefined;
  /** A place from which it shines, to find what it stands in, and a direction from there. */
  readonly origin: Triple;
  readonly axis: Triple;
}

/** A flat source with a common law as the compiled tracer (`kernels/scene`) knows it. */
export interface PlainSource {
  readonly pose: Rigid;
  readonly region: PlainRegion;
  readonly law: NonNullable<CompiledLaw['plain']>;
  /** By wavelength: its index, and the share of the flux up to it. */
  readonly lines: readonly number[];
  readonly below: readonly number[];
}

/** Makes the sources ready that are not excluded and have a flux. */
export function compileSources(
  scene: Scene,
  standing: Standing,
  faces: readonly SceneFace[],
  waves: readonly number[],
  findings: Finding[],
): CompiledSource[] {
  return scene.sources.flatMap((source) => {
    const place = standingOf(standing, source.id);
    if (!place || source.flux === 0) return [];
    const region = startsOf(source, faces, findings);
    if (!region) return [];
    const watts = wattsOf(source);
    if (typeof watts === 'string') {
      findings.push({ severity: 'error', where: source.id, text: watts });
      return [];
    }
    const lines = linesOf(source, waves);
    const pose = region.pose ?? looking(place, source.towards);
    const law = compileLaw(source.law);
    const aim = aimOf(source, law, faces, findings);
    const plain =
      !aim && law.plain && region.plain ? { pose, region: region.plain, law: law.plain, ...lines } : undefined;
    return [
      {
        id: source.id,
        watts,
        waves: lines.lines,
        launch: launcher(region.start, law, pose, lines, aim),
        plain,
        ...originOf(region.start, pose),
      },
    ];
  });
}

/** Flux in W; what is wrong with the light, in a sentence, if it has none. */
function wattsOf({ light, unit, flux }: Source): number | string {
  const weight = light.reduce((sum, line) => sum + line.weight, 0);
  if (!(weight > 0)) return 'Every wavelength of it has weight 0.';
  const efficacy = light.reduce((sum, { nm, weight: w }) => sum + (w / weight) * lumensPerWatt(nm), 0);
  if (unit === 'lm' && efficacy === 0) return 'Its light is invisible: give its flux in W.';
  return unit === 'W' ? flux : flux / efficacy;
}

/** The wavelengths of a source: their indices, and the share of the flux up to each. */
interface Lines {
  readonly lines: readonly number[];
  readonly below: readonly number[];
}

function linesOf({ light }: Source, waves: readonly number[]): Lines {
  const weight = light.reduce((sum, line) => sum + line.weight, 0);
  let sum = 0;
  return {
    lines: light.map(({ nm }) => waves.indexOf(nm)),
    below: light.map((line) => (sum += line.weight / weight)),
  };
}

/** What a source sends its rays to; null if it sends them by its law alone. */
function aimOf(
  { id, aim: target }: Source,
  { parallel }: CompiledLaw,
  faces: readonly SceneFace[],
  findings: Finding[],
): Aim | null {
  const [aim] = target === undefined ? [] : compileAims([target], faces, id, findings);
  if (!aim) return null;
  if (parallel)
    findings.push({
      severity: 'warning',
      where: id,
      text: 'Parallel light has no directions to choose from: it is not aimed. Turn the source toward its target instead.',
    });
  return parallel ? null : aim;
}

/** What writes the rays of a source, see `CompiledSource`. */
function launcher(
  begin: Start,
  law: CompiledLaw,
  pose: Rigid,
  { lines, below }: Lines,
  aim: Aim | null,
): CompiledSource['launch'] {
  const { shift: s, rotation: r } = pose;
  const start = new Float64Array(6);
  const slope = new Float64Array(2);
  return (u, out) => {
    begin(u[0], u[1], start);
    law.angle(u[2], slope);
    const turn = 2 * Math.PI * u[3];
    const sine = slope[0];
    about(start[3], start[4], start[5], slope[1], sine * Math.cos(turn), sine * Math.sin(turn));
    const x = start[0];
    const y = start[1];
    const z = start[2];
    out[0] = s[0] + r[0] * x + r[1] * y + r[2] * z;
    out[1] = s[1] + r[3] * x + r[4] * y + r[5] * z;
    out[2] = s[2] + r[6] * x + r[7] * y + r[8] * z;
    const gl = r[0] * toL + r[1] * toM + r[2] * toN;
    const gm = r[3] * toL + r[4] * toM + r[5] * toN;
    const gn = r[6] * toL + r[7] * toM + r[8] * toN;
    const scale = 1 / Math.sqrt(gl * gl + gm * gm + gn * gn);
    out[3] = gl * scale;
    out[4] = gm * scale;
    out[5] = gn * scale;
    out[6] = 1;
    const cone = aim ? coneTo(aim, out, u) : 0;
    if (cone > 0) {
      const [nx, ny, nz] = [start[3], start[4], start[5]];
      const cosine =
        toL * (r[0] * nx + r[1] * ny + r[2] * nz) +
        toM * (r[3] * nx + r[4] * ny + r[5] * nz) +
        toN * (r[6] * nx + r[7] * ny + r[8] * nz);
      out[6] = law.density(cosine) * cone;
      out[3] = toL;
      out[4] = toM;
      out[5] = toN;
    }
    let line = 0;
    while (line < below.length - 1 && u[4] > below[line]) line++;
    return lines[line];
  };
}

/** Draws a direction from a place toward a ball; its solid angle. */
function coneTo({ centre, radius }: Aim, at: Float64Array, u: Float64Array): number {
  return drawToward(centre[0] - at[0], centre[1] - at[1], centre[2] - at[2], radius, u[2], u[3]);
}

function originOf(start: Start, pose: Rigid): { origin: Triple; axis: Triple } {
  const at = new Float64Array(6);
  start(0.5, 0.5, at);
  const axis = turnDirection(pose, [at[3], at[4], at[5]]);
  return { origin: movePoint(pose, [at[0], at[1], at[2]]), axis };
}

/** A place turned so that its z axis looks at a point given in the coordinates around it. */
function looking(place: Rigid, towards: Source['towards']): Rigid {
  if (!towards) return place;
  const aim = turnDirection(place, [towards.x, towards.y, towards.z]);
  const length = Math.hypot(...aim);
  if (!(length > 0)) return place;
  const [x, y, z] = aim.map((part) => part / length);
  about(x, y, z, 0, 1, 0);
  const a = [toL, toM, toN];
  about(x, y, z, 0, 0, 1);
  const b = [toL, toM, toN];
  return { shift: place.shift, rotation: Float64Array.of(a[0], b[0], x, a[1], b[1], y, a[2], b[2], z) };
}

function startsOf(
  { id, region, order }: Source,
  faces: readonly SceneFace[],
  findings: Finding[],
): { start: Start; plain?: PlainRegion; pose?: Rigid } | null {
  if (region.kind !== 'face') {
    const compiled = compileRegion(region);
    const ordered = order ? orderedStart(compiled, order) : null;
    if (order && !ordered)
      findings.push({
        severity: 'warning',
        where: id,
        text: 'Its starts have no regular order on this shape: they are drawn. Use a disc or a rectangle, or at most a million places.',
      });
    if (ordered) return { start: ordered };
    const { start, plain } = compiled;
    return { start, ...(plain && !order && { plain }) };
  }
  const face = faces.find(({ part, name }) => part === region.part && name === region.face);
  if (!face) {
    findings.push({
      severity: 'error',
      where: id,
      text: `There is no face ${region.part}.${region.face} to emit from.`,
    });
    return null;
  }
  return { start: onFace(face.form), pose: face.pose };
}
