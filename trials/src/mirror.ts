import { polish } from '@ulvex/core/improve';
import { leastRadius, measured, mirrorScene, RAYS } from '../../core/src/improve/fixtures.ts';

/** Places that the light starts at, some 4 mm off: tilts in degrees, and the screen's distance. */
const STARTS = [
  [0.6, -0.45, 165],
  [-0.5, 0.55, 190],
  [0.75, 0.05, 172],
  [0.05, -0.75, 187],
  [-0.55, -0.5, 168],
] as const;

/** The two tilts of a mirror and the distance of its screen, by goals in the scene, from five starts; looked at with other rays than those of the run. */
export function mirror(): void {
  const least = leastRadius();
  for (const [k, [tx, ty, distance]] of STARTS.entries()) {
    const began = performance.now();
    const start = mirrorScene(tx, ty, distance, 1 + k);
    const off = Math.hypot(measured(start, 'detector_centroid_x').value, measured(start, 'detector_centroid_y').value);
    const run = polish(start, null);
    let step = run.next();
    while (!step.done) step = run.next();
    if (!step.value.ok) throw new Error(step.value.reason);
    const { project, evaluations, reason } = step.value.value;
    const seconds = (performance.now() - began) / 1000;
    const seen = { ...project, scenes: project.scenes!.map((scene) => ({ ...scene, sampling: { ...scene.sampling, seed: 1000 + k } })) };
    const told = (measure: string, wanted: number) => {
      const { value, standardError } = measured(seen, measure);
      // Two samples: that of the run, and the one that it is looked at with.
      return `${(value - wanted).toExponential(2)} mm (${(Math.abs(value - wanted) / (Math.SQRT2 * standardError)).toFixed(2)} σ)`;
    };
    console.log(
      `from ${off.toFixed(2)} mm off: ${evaluations} looks of ${RAYS} rays, ${((evaluations * RAYS) / 1e6).toFixed(1)} M in ${seconds.toFixed(1)} s, stopped by ${reason}; ` +
        `centroid ${told('detector_centroid_x', 0)}, ${told('detector_centroid_y', 0)}, radius over the least ${told('detector_rms_radius', least)} of ${least.toFixed(4)} mm`,
    );
  }
} // prettier-ignore
