import {
  isGas,
  isPlainConic,
  shapeNumbers,
  surfaceTitle,
  titleWithin,
  type Finding,
  type Lens,
  type Material,
  type Project,
  type Surface,
} from '@ulvex/core';

/** One line of the prescription: a surface, or the medium after it it. */
export interface SurfaceRow {
  readonly surface: Surface;
  readonly index: number;
  readonly title: string;
  /** mm; Infinity for a flat. */
  readonly radius: number;
  readonly conic: number;
  /** Whether the shape has more numbers than the columns show. */
  readonly shapeNote: string | null;
  readonly findings: readonly Finding[];
  readonly medium: MediumRow | null;
}

export interface MediumRow {
  readonly solid: boolean;
  /** `L1` for an element, `gap` for a gap, `to sensor` for the last one. */
  readonly title: string;
  readonly thickness: number;
  readonly material: Material | undefined;
  readonly materialId: string;
}

/** The prescription of a lens, line by line. */
export function prescriptionRows(project: Project, lens: Lens, findings: readonly Finding[]): SurfaceRow[] {
  const last = lens.surfaces.length - 1;
  return lens.surfaces.map((surface, index) => {
    const { shape } = surface;
    return {
      surface,
      index,
      title: surfaceTitle(lens, index),
      ...shapeNumbers(shape),
      shapeNote: isPlainConic(shape) ? null : shapeNote(shape.kind),
      findings: findings.filter((finding) => finding.where === surface.id),
      medium: surface.after && mediumRow(project, lens, index, index === last - 1),
    };
  });
}

/** Puts rows of the last version in the place of equal ones: what did not change is the same object, and nothing of it is drawn anew. */
export function rowKeeper(): (rows: readonly SurfaceRow[]) => readonly SurfaceRow[] {
  let before: readonly SurfaceRow[] = [];
  return (rows) => {
    before = rows.map((row, index) => (before[index] && sameRow(before[index], row) ? before[index] : row));
    return before;
  };
}

function sameRow(a: SurfaceRow, b: SurfaceRow): boolean {
  return (
    a.surface === b.surface &&
    a.title === b.title &&
    a.medium?.title === b.medium?.title &&
    a.medium?.material === b.medium?.material &&
    a.findings.length === b.findings.length &&
    a.findings.every(({ severity, text }, i) => severity === b.findings[i].severity && text === b.findings[i].text)
  );
}

/** A shape in a word, where the columns do not show all of it. */
function shapeNote(kind: Surface['shape']['kind']): string {
  if (kind === 'even_asphere' || kind === 'odd_asphere') return 'asphere';
  return kind.split('_')[0];
}

function mediumRow(project: Project, lens: Lens, index: number, toImage: boolean): MediumRow {
  const { after } = lens.surfaces[index];
  const material = project.materials.find((entry) => entry.id === after!.material);
  const solid = material ? !isGas(material) : after!.name !== undefined;
  const image = titleWithin(surfaceTitle(lens, lens.surfaces.length - 1));
  return {
    solid,
    title: solid ? (after!.name ?? 'element') : toImage ? `to ${image}` : 'gap',
    thickness: after!.thickness,
    material,
    materialId: after!.material,
  };
}

/** Bow of a surface's small arc in the list, from −1 (centre toward the object) to 1, by its steepness at the rim. */
export function bow(radius: number, semi: number): number {
  if (!Number.isFinite(radius) || radius === 0) return 0;
  return Math.max(-1, Math.min(1, (2 * semi) / radius));
}
