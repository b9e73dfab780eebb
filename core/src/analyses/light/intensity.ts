import { success } from '../../math/outcome.ts';
import { fallAngle, halfAngle, planeCurve, ringCurve } from '../../scene/far-field.ts';
import { defineSceneAnalysis } from '../analysis.ts';
import type { Curve, Figure, Panel } from '../panels.ts';
import { countsOf, DETECTOR, LIGHT, mapOf, RAYS, SOURCE } from './detector.ts';
import { densityTitle } from './maps.ts';

const radians = (degrees: number) => (degrees * Math.PI) / 180;

const angleFigure = (name: string, { value, standardError }: ReturnType<typeof halfAngle>): Figure => ({
  name,
  value,
  error: standardError,
  unit: '°',
});

export const intensity = defineSceneAnalysis({
  id: 'intensity',
  title: 'Intensity by angle',
  topic: 'light',
  question: 'Where does the lamp throw its light?',
  meaning:
    'Intensity over the angle to the axis of a far-field detector, in the plane that is turned by the chosen angle from x ' +
    'toward y and in the one across. Half-angle: where the mean of all planes falls to a half, or a tenth, of its peak; in one ' +
    'plane, half of the angle between both directions with a half.',
  settings: {
    detector: DETECTOR,
    light: LIGHT,
    source: SOURCE,
    plane: { kind: 'number', title: 'Plane', unit: '°', min: 0, max: 180, fallback: 0 },
    view: { kind: 'choice', title: 'Shown as', options: ['curves', 'polar'], fallback: 'curves' },
    by: { kind: 'integer', title: 'Cells taken together', min: 1, max: 50, fallback: 1 },
    rays: RAYS,
  },
  *evaluate(scene, settings, detail) {
    const found = yield* countsOf(
      scene,
      settings,
      detail,
      ({ chart }) => chart.kind === 'directions',
      'far-field detector',
    );
    if (!found.ok) return found;
    const { units, numbers, about, efficiency } = found.value;
    const map = mapOf(found.value, 0, settings.by);
    const planes = [settings.plane, (settings.plane + 90) % 180];
    const curves = planes.map((plane) => planeCurve(map, plane));
    const rings = ringCurve(map);
    const { angles } = curves[0];
    const widest = angles[angles.length - 1];
    const lines = curves.map(({ values }) => values);
    const figures: Figure[] = [
      { name: 'peak', value: numbers.peak.value, error: numbers.peak.standardError, unit: units.density },
      { name: 'flux', value: numbers.flux.value, error: numbers.flux.standardError, unit: units.flux },
      efficiency,
      ...[0.5, 0.1].map((share) => angleFigure(`half-angle at ${100 * share} %`, fallAngle(rings, share))),
      ...planes.map((plane, k) => angleFigure(`at 50 % in plane ${plane}°`, halfAngle(curves[k], 0.5))),
    ];
    const named = (k: number): Pick<Curve, 'name' | 'tint' | 'stroke'> => ({
      name: `plane ${planes[k]}°`,
      tint: 'ink',
      ...(k === 1 && { stroke: 'dashed' as const }),
    });
    const title = densityTitle(units.density);
    const panel: Panel =
      settings.view === 'polar'
        ? { ...polar(angles, lines, named, title, units.density), figures }
        : {
            kind: 'curves',
            title,
            x: { title: 'angle to the axis', unit: '°', range: [-widest, widest] },
            y: {
              title,
              unit: units.density,
              range: [0, 1.05 * Math.max(...lines.flat().filter((value) => value > 0), 1e-12)],
            },
            curves: lines.map((y, k) => ({ ...named(k), x: angles, y })),
            figures,
          };
    return success({ panels: [panel], about: [...about, `${map.columns} × ${map.rows} cells`] });
  },
});

const RINGS = [0.25, 0.5, 0.75, 1] as const;

/** Curves about the middle: the distance is the intensity, up is the axis. */
function polar(
  angles: readonly number[],
  lines: readonly (readonly number[])[],
  named: (k: number) => Pick<Curve, 'name' | 'tint' | 'stroke'>,
  title: string,
  unit: string,
): Extract<Panel, { kind: 'dots' }> {
  const top = Math.max(...lines.flat().filter((value) => value > 0), 1e-12);
  const round = Array.from({ length: 73 }, (_, k) => radians(5 * k));
  return {
    kind: 'dots',
    title,
    x: { title: `${title} across`, unit, range: [-top, top] },
    y: { title: `${title} along the axis`, unit, range: [-top, top] },
    groups: [],
    outlines: [
      ...lines.map((line, k): Curve => {
        const seen = angles
          .map((angle, i) => [radians(angle), line[i]] as const)
          .filter(([, value]) => !Number.isNaN(value));
        return {
          ...named(k),
          x: seen.map(([angle, value]) => value * Math.sin(angle)),
          y: seen.map(([angle, value]) => value * Math.cos(angle)),
        };
      }),
      ...RINGS.map((share): Curve => ({
        name: `${100 * share} %`,
        tint: 'limit',
        stroke: 'dotted',
        x: round.map((angle) => share * top * Math.sin(angle)),
        y: round.map((angle) => share * top * Math.cos(angle)),
      })),
    ],
  };
}
