import { readFileSync } from 'node:fs';
import { applyEdits, evaluateMeasure, Evaluation, readProjectText, type Project } from '@ulvex/core';
import { polish } from '@ulvex/core/improve';

/** Rays that its goals count. */
const RAYS = 16_384;

/** Places that the light starts at, some 4 mm off: tilts in degrees, and the screen's distance. */
const STARTS = [
  [0.6, -0.45, 165],
  [-0.5, 0.55, 190],
  [0.75, 0.05, 172],
  [0.05, -0.75, 187],
  [-0.55, -0.5, 168],
] as const;

function measured(project: Project, measure: string): { value: number; standardError: number } {
  const found = evaluateMeasure(new Evaluation(project), {
    measure,
    lens: 'lamp',
    settings: { detector: 'map', rays: RAYS },
  });
  if (!found.ok) throw new Error(found.reason);
  return { value: found.value.value, standardError: found.value.standardError ?? NaN };
}

/** The signal lamp with its mirror tilted, its screen at a distance, and random numbers of a seed. */
function lampAt(lamp: Project, tx: number, ty: number, dz: number, seed: number): Project {
  const at = 'scenes.lamp';
  return applyEdits(lamp, [
    { kind: 'set', path: `${at}.parts.mirror.frame`, value: { tx, ty } },
    { kind: 'set', path: `${at}.parts.screen.frame`, value: { dz } },
    { kind: 'set', path: `${at}.sampling.seed`, value: seed },
  ]).project;
}

/** The least RMS radius that an upright mirror makes: its square is a parabola in the distance, since rays are straight. */
function leastRadius(lamp: Project): number {
  const [a, b, c] = [175, 180, 185].map((dz) => measured(lampAt(lamp, 0, 0, dz, 1), 'detector_rms_radius').value ** 2);
  const [slope, bend] = [(c - a) / 10, (a - 2 * b + c) / 25];
  return Math.sqrt(b - slope ** 2 / (2 * bend));
}

/**
 * The two tilts of a mirror and the distance of its screen, by goals in the scene, from five starts; looked at with
 * other rays than those of the run.
 */
export function mirror(): void {
  const read = readProjectText(readFileSync('samples/signal-lamp.ulvex.json', 'utf8'));
  if (!read.ok) throw new Error(JSON.stringify(read.problems));
  const { project: lamp } = read;
  const least = leastRadius(lamp);
  for (const [k, [tx, ty, distance]] of STARTS.entries()) {
    const began = performance.now();
    const start = lampAt(lamp, tx, ty, distance, 1 + k);
    const off = Math.hypot(measured(start, 'detector_centroid_x').value, measured(start, 'detector_centroid_y').value);
    const run = polish(start, null);
    let step = run.next();
    while (!step.done) step = run.next();
    if (!step.value.ok) throw new Error(step.value.reason);
    const { project, evaluations, reason } = step.value.value;
    const seconds = (performance.now() - began) / 1000;
    const seen = {
      ...project,
      scenes: project.scenes!.map((scene) => ({ ...scene, sampling: { ...scene.sampling, seed: 1000 + k } })),
    };
    const told = (measure: string, wanted: number) => {
      const { value, standardError } = measured(seen, measure);
      // Two samples: that of the run, and the one that it is looked at with.
      return `${(value - wanted).toExponential(2)} mm (${(Math.abs(value - wanted) / (Math.SQRT2 * standardError)).toFixed(2)} σ)`;
    };
    console.log(
      `from ${off.toFixed(2)} mm off: ${evaluations} looks of ${RAYS} rays, ` +
        `${((evaluations * RAYS) / 1e6).toFixed(1)} M in ${seconds.toFixed(1)} s, stopped by ${reason}; ` +
        `centroid ${told('detector_centroid_x', 0)}, ${told('detector_centroid_y', 0)}, radius over the least ` +
        `${told('detector_rms_radius', least)} of ${least.toFixed(4)} mm`,
    );
  }
}
