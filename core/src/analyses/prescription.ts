import { success } from '../math/outcome.ts';
import { surfaceTitle } from '../project/lens-edits.ts';
import type { Surface } from '../project/model.ts';
import { defineAnalysis } from './analysis.ts';
import type { TablePanel } from './panels.ts';

/** Digits of lengths in a table that a workshop reads. */
const DIGITS = 8;

/** The radius of a shape as a number, Infinity for a flat; NaN for a shape that has none. */
function radiusOf({ shape }: Surface): number {
  if (shape.kind === 'plane') return Infinity;
  const { radius } = shape as { readonly radius?: number | 'infinity' };
  return radius === 'infinity' ? Infinity : (radius ?? NaN);
}

/** What a surface is beyond its radius, in words. */
function remarks(surface: Surface, stop: boolean): string {
  const { kind } = surface.shape;
  const { frame } = surface;
  const placed =
    frame &&
    (['dx', 'dy', 'dz', 'tx', 'ty', 'tz'] as const).filter((key) => frame[key]).map((key) => `${key} ${frame[key]}`);
  return [
    ...(stop ? ['stop'] : []),
    ...(surface.reflects ? ['mirror'] : []),
    ...(kind === 'sphere' || kind === 'plane' ? [] : [kind.replaceAll('_', ' ')]),
    ...(surface.phase ? [surface.phase.kind.replaceAll('_', ' ')] : []),
    ...(surface.aperture.kind === 'automatic' ? [] : ['aperture set']),
    ...(placed && placed.length > 0 ? [placed.join(', ')] : []),
    ...(surface.after?.excluded ? ['excluded'] : []),
  ].join(' · ');
}

export const prescriptionTable = defineAnalysis({
  id: 'prescription',
  title: 'Prescription',
  topic: 'lens',
  question: 'What is it made of?',
  meaning:
    'Surfaces in their order with radius, thickness and material after them, semi-aperture (of the rays ' +
    'where none is set) and conic constant; what else a surface is stands beside it. Lengths in mm. Files ' +
    'hold every digit.',
  wide: true,
  settings: {},
  exact: true,
  // eslint-disable-next-line require-yield -- a table of what is known already
  *evaluate(lens) {
    const { model } = lens;
    const { surfaces } = model.lens;
    const extents = lens.extents();
    const columns = [
      { title: 'surface', unit: '', ids: true },
      { title: 'radius', unit: 'mm', digits: DIGITS },
      { title: 'thickness', unit: 'mm', digits: DIGITS },
      { title: 'material', unit: '' },
      { title: 'semi-aperture', unit: 'mm', digits: 5 },
      { title: 'conic', unit: '', digits: DIGITS },
      { title: 'remarks', unit: '' },
    ];
    const rows = surfaces.map((surface, j): (string | number)[] => {
      const { conic } = surface.shape as { readonly conic?: number };
      const radius = radiusOf(surface);
      return [
        surfaceTitle(model.lens, j),
        Number.isNaN(radius) ? '' : radius,
        surface.after ? surface.after.thickness : '',
        surface.after ? (model.media[j + 1]?.label ?? surface.after.material) : '',
        extents[j].semi,
        conic === undefined || conic === 0 ? '' : conic,
        remarks(surface, surface.id === model.lens.stop),
      ];
    });
    const { aperture, object, fields } = model.lens;
    const panel: TablePanel = { kind: 'table', title: 'Prescription', columns, rows };
    const about = [
      object.distance === 'infinity' ? 'far object' : `object at ${object.distance} mm`,
      `${aperture.kind.replaceAll('_', ' ')} ${Number(aperture.value.toPrecision(6))}`,
      `fields by ${fields.kind.replaceAll('_', ' ')} to ${Number(Math.max(0, ...fields.points.map(({ x, y }) => Math.hypot(x, y))).toPrecision(6))}`,
      'lengths in mm',
    ];
    return success({ panels: [panel], about });
  },
});
