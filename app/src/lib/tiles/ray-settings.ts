import { wavelengthLabel, type Lens, type RaySource } from '@ulvex/core';
import { fieldLabels, surfaceLabels } from '../desk/lens-words.ts';
import { plain } from '../format.ts';

export interface RaySettings {
  readonly source: RaySource;
  /** Id of a wavelength; the primary one for null. */
  readonly wavelength: string | null;
  /** Coordinates of the first vertex rather than of each surface. */
  readonly global: boolean;
  /** Whether a narrow table shows direction cosines in the place of places. */
  readonly directions: boolean;
}

/** What a kept ray is called: its field and pupil point, or where it starts or what it is aimed at, and its colour. */
export function keptRayName(lens: Lens | null, source: RaySource, wavelength: string | null): string {
  const wave = lens?.wavelengths.find(({ id }) => id === (wavelength ?? lens.primary));
  const colour = wave ? `, ${wavelengthLabel(wave.nm)}` : '';
  const two = (x: number, y: number) => `${plain(x, 4)}, ${plain(y, 4)}`;
  const field = source.kind === 'launched' ? '' : (fieldLabels(lens).get(source.field) ?? source.field);
  switch (source.kind) {
    case 'pupil':
      return `${field} at ${two(source.px, source.py)}${colour}`;
    case 'aimed':
      return `${field} to ${surfaceLabels(lens).get(source.surface) ?? source.surface} ${two(source.x, source.y)}${colour}`;
    case 'launched':
      return `from ${two(source.x, source.y)}, ${plain(source.z, 4)} at ${two(source.tx, source.ty)}°${colour}`;
  }
}

const number = (value: unknown, limit = Infinity): number =>
  typeof value === 'number' && Number.isFinite(value) ? Math.max(-limit, Math.min(limit, value)) : 0;

/** A source of a kind for a lens, with the numbers that another one has in common with it. */
export function sourceOfKind(kind: RaySource['kind'], before: unknown, lens: Lens | null): RaySource {
  const given = asRecord(before);
  const named = lens?.fields.points.find(({ id }) => id === given.field) ?? lens?.fields.points[0];
  const field = named?.id ?? 'axis';
  switch (kind) {
    case 'pupil':
      return { kind, field, px: number(given.px, 1), py: number(given.py, 1) };
    case 'launched':
      return {
        kind,
        x: number(given.x),
        y: number(given.y),
        z: number(given.z),
        tx: number(given.tx, 89.999),
        ty: number(given.ty, 89.999),
      };
    case 'aimed': {
      const surface =
        lens?.surfaces.find(({ id }) => id === given.surface)?.id ?? lens?.stop ?? lens?.surfaces[0].id ?? '';
      return { kind, field, surface, x: number(given.x), y: number(given.y) };
    }
  }
}

/** Settings as a project may hold them: whatever is not legal for the lens falls back. */
export function raySettings(stored: unknown, lens: Lens | null): RaySettings {
  const given = asRecord(stored);
  const { kind } = asRecord(given.source);
  const known = kind === 'launched' || kind === 'aimed' ? kind : 'pupil';
  return {
    source: sourceOfKind(known, given.source, lens),
    wavelength: lens?.wavelengths.some(({ id }) => id === given.wavelength) ? (given.wavelength as string) : null,
    global: given.global === true,
    directions: given.directions === true,
  };
}

function asRecord(stored: unknown): Record<string, unknown> {
  return typeof stored === 'object' && stored !== null ? (stored as Record<string, unknown>) : {};
}
