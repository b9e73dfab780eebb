import { launchRays, rayBlock, traceBlock, RAY_STATUS } from '@ulvex/core';
import { aimOf, fieldAt, type Aim, type Bench } from './judge-lens.ts';

type Triple = readonly [number | null, number | null, number | null];

/** One ray of a reference file. */
export interface RayRecord {
  readonly aim: Aim;
  readonly field: number;
  readonly um: number;
  readonly px: number;
  readonly py: number;
  readonly entrancePupilXY?: readonly (number | null)[];
  readonly start?: Triple;
  readonly startDir?: Triple;
  readonly surfaces: readonly {
    readonly P: Triple;
    readonly D: Triple;
    readonly I: number | null;
    readonly Ip: number | null;
    readonly oplFromSurface1: number | null;
  }[];
}

/** What Ulvex found for one ray at one surface; null for what the ray does not have there. */
interface Step {
  readonly position: readonly number[] | null;
  readonly direction: readonly number[] | null;
  readonly incidence: number | null;
  readonly refraction: number | null;
  readonly path: number | null;
}

const NOTHING: Step = { position: null, direction: null, incidence: null, refraction: null, path: null };

/** Compares each ray surface by surface; a ray that ends must end at the same surface. */
export function judgeRays(bench: Bench, rays: readonly RayRecord[]): void {
  for (const record of rays) {
    const traced = traceRecord(bench, record);
    const at = `${record.aim} ${record.field}° ${record.um} (${record.px}, ${record.py})`;
    const compare = (category: string, label: string, expected: number | null, actual: number | null | undefined) =>
      bench.tally.compare(category, `${label} ${at}`, expected, actual, bench.tolerance(category, record.aim));
    record.entrancePupilXY?.forEach((value, i) => compare('rays.P', `pupil ${'xy'[i]}`, value, traced?.pupil[i]));
    record.start?.forEach((value, i) => compare('rays.P', `start ${'xyz'[i]}`, value, traced?.start[i]));
    record.startDir?.forEach((value, i) => compare('rays.D', `start ${'lmn'[i]}`, value, traced?.startDirection[i]));
    record.surfaces.forEach((expected, j) => {
      const step = traced ? (traced.steps[j] ?? NOTHING) : undefined;
      const part = (values: readonly number[] | null | undefined, i: number) => (values === null ? null : values?.[i]);
      expected.P.forEach((value, i) =>
        compare('rays.P', `surface ${j + 1} ${'xyz'[i]}`, value, part(step?.position, i)),
      );
      expected.D.forEach((value, i) =>
        compare('rays.D', `surface ${j + 1} ${'lmn'[i]}`, value, part(step?.direction, i)),
      );
      compare('rays.angles', `surface ${j + 1} I`, expected.I, step?.incidence);
      compare('rays.angles', `surface ${j + 1} I′`, expected.Ip, step?.refraction);
      compare('rays.opl', `surface ${j + 1}`, expected.oplFromSurface1, step?.path);
    });
  }
}

function traceRecord(bench: Bench, record: RayRecord) {
  const { model } = bench.lens;
  const aimer = bench.lens.aimer();
  if (!aimer.ok) return undefined;
  const wave = bench.reference.wavelengths.findIndex((entry) => entry.um === record.um);
  const field = fieldAt(bench, record.field);
  const rays = rayBlock(1);
  const { ex, ey } = aimer.value.aim(aimOf(record.aim), field, wave, [record.px], [record.py]);
  if (Number.isNaN(ex[0])) return undefined;
  launchRays(model, aimer.value.pupil, field, ex, ey, rays, 1);
  const start = [rays.x[0], rays.y[0], rays.z[0]];
  const startDirection = [rays.l[0], rays.m[0], rays.n[0]];
  const steps: Step[] = [];
  let first = 0;
  traceBlock(model, rays, 1, wave, {
    clip: false,
    visit(j, part) {
      const ended = part.status[0] !== RAY_STATUS.alive;
      if (ended && (part.at[0] < j || part.status[0] === RAY_STATUS.missed)) {
        steps.push(NOTHING);
        return;
      }
      if (j === 0) first = part.path[0];
      const direction = [part.l[0], part.m[0], part.n[0]];
      const normal = [part.nx[0], part.ny[0], part.nz[0]];
      const sine = Math.hypot(
        direction[1] * normal[2] - direction[2] * normal[1],
        direction[2] * normal[0] - direction[0] * normal[2],
        direction[0] * normal[1] - direction[1] * normal[0],
      );
      const cosine = Math.abs(direction[0] * normal[0] + direction[1] * normal[1] + direction[2] * normal[2]);
      const behind = Math.atan2(sine, cosine);
      const [n, next] = [model.indices[wave][j], model.indices[wave][j + 1]];
      steps.push({
        position: [part.x[0], part.y[0], part.z[0]],
        direction: ended ? null : direction,
        incidence: ended ? behind : Math.asin(Math.min(1, (next * sine) / n)),
        refraction: ended ? null : behind,
        path: part.path[0] - first,
      });
    },
  });
  return { pupil: [ex[0], ey[0]], start, startDirection, steps };
}
