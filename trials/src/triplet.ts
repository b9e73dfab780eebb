import { type Goal, type Project } from '@ulvex/core';
import { allGlasses, makingRows, rimRays, search, type Candidate } from '@ulvex/core/improve';
import { Evaluation } from '@ulvex/core';
import { measured } from './four-element.ts';
import { roughProject } from './rough-forms.ts';

/** Airy radius at F/6 and 587.6 nm: 1.22 λ N. */
const AIRY = 1.22 * 0.5875618 * 6;

/** Three plane-parallel plates with the stop between the last two, and a positive, a negative and a positive element as the guess. */
export function plates(): Project {
  const flat = { r: Infinity };
  const rough = roughProject({
    id: 'plates',
    name: 'Three plates',
    notes: '',
    surfaces: [
      { ...flat, t: 2, glass: '620603' },
      { ...flat, t: 3 },
      { ...flat, t: 1, glass: '620364' },
      { ...flat, t: 1.5 },
      { id: 'stop', t: 1.5 },
      { ...flat, t: 2, glass: '620603' },
      { ...flat, t: 24 },
    ],
    stop: 'stop',
    lens: {
      aperture: { kind: 'entrance_pupil_diameter', value: 28 / 6 },
      fields: {
        kind: 'angle',
        points: [0, 9, 13, 18].map((y, k) => ({ id: ['axis', 'inner', 'zone', 'edge'][k], x: 0, y, weight: 1 })),
      },
    },
    goals: [{ measure: 'effective_focal_length', settings: {}, target: 28 }],
    free: {
      's1.radius': [7],
      's2.radius': [],
      's3.radius': [undefined, -7],
      's4.radius': [7],
      's6.radius': [],
      's7.radius': [undefined, -7],
      's1.thickness': [1.2, 5],
      's2.thickness': [0.5, 8],
      's3.thickness': [1, 3],
      's4.thickness': [0.3, 5],
      'stop.thickness': [0.3, 5],
      's6.thickness': [1.2, 5],
      's7.thickness': [5, 40],
    },
  });
  const surfaces = rough.lenses[0].surfaces.map((surface) =>
    surface.shape.kind === 'sphere' ? { ...surface, shape: { kind: 'sphere', radius: 'infinity' } as const } : surface,
  );
  const goals: Goal[] = [...rough.goals!];
  return { ...rough, lenses: [{ ...rough.lenses[0], surfaces }], goals };
}

interface Held {
  readonly spots: readonly number[];
  readonly exceeded: number;
}

/** What a candidate has by the full sampling, every 2° from 0 to 18. */
export function held(project: Project): Held {
  const lens = new Evaluation(project).lens('lens');
  const rim = lens.ok ? rimRays(lens.value) : null;
  const rows = lens.ok && rim ? makingRows(lens.value.model, rim, project.making) : [];
  // Between the fields of the goal, too.
  const [record] = project.lenses;
  const points = Array.from({ length: 10 }, (_, k) => ({ id: `f${k}`, x: 0, y: 2 * k, weight: 1 }));
  const dense: Project = { ...project, lenses: [{ ...record, fields: { kind: 'angle', points } }] };
  const spots = points.map(({ id }) => measured(dense, 'rms_spot_radius', { field: id, pupil: 'full' }));
  return { spots, exceeded: rim ? rows.filter(({ over }) => over > 1e-3).length : Infinity };
}

/** A triplet from plates, by search with exchange of glass: until its worst spot is within an Airy radius, or for a time. */
export function triplet(seed: number, minutes: number): void {
  const run = search(plates(), null, {
    seed,
    starts: 24,
    glass: { lens: 'lens', surfaces: ['s1', 's3', 's6'], shortlist: allGlasses() },
  });
  const began = performance.now();
  const passed = () => (performance.now() - began) / 60_000;
  let best: Candidate | null = null;
  for (;;) {
    const step = run.next();
    if (step.done) throw new Error(step.value.ok ? '' : step.value.reason);
    const { gallery, trials, evaluations } = step.value;
    const there = gallery[0];
    const better = there !== undefined && there !== best;
    if (better) {
      best = there;
      const { spots, exceeded } = held(best.project);
      const worst = Math.max(...spots);
      if (process.env.VERBOSE)
        console.log(
          `  ${passed().toFixed(2)} min, trial ${trials}: ${best.by}, merit ${best.merit.toFixed(2)}, worst ` +
            `${worst.toFixed(2)}, ${best.glasses.join(' ')}`,
        );
      if (worst <= AIRY && exceeded === 0) {
        console.log(
          `seed ${seed}: reached ${worst.toFixed(2)} µm (Airy ${AIRY.toFixed(2)}) in ${passed().toFixed(2)} ` +
            `min, ${trials} trials, ${evaluations} evaluations, ${best.glasses.join(' ')}`,
        );
        return;
      }
    }
    if (passed() < minutes) continue;
    const end = best ? held(best.project) : null;
    console.log(
      `seed ${seed}: not reached in ${minutes} min; best ${end ? Math.max(...end.spots).toFixed(2) : '–'} ` +
        `µm, limits exceeded ${end?.exceeded ?? '–'}, ${trials} trials, ${evaluations} evaluations, ` +
        `${best?.glasses.join(' ')}`,
    );
    return;
  }
}
