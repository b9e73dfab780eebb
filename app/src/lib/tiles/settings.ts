import type { MtfMethod, SpotReference } from '@ulvex/core';

/** Samplings that tiles offer: rings × arms of rays a colour. */
export const SAMPLINGS = [
  { rings: 4, arms: 8 },
  { rings: 6, arms: 12 },
  { rings: 12, arms: 24 },
  { rings: 24, arms: 48 },
] as const;

export interface SpotSettings {
  readonly reference: SpotReference;
  readonly pupil: 'clipped' | 'full';
  /** Index into SAMPLINGS. */
  readonly sampling: number;
  /** Half the side of every picture in µm; null fits all rays. */
  readonly box: number | null;
}

export interface FanSettings {
  readonly direction: 'both' | 'tangential' | 'sagittal';
  readonly pupil: 'clipped' | 'full';
  /** Half the height of every chart in µm; null fits all rays. */
  readonly scale: number | null;
}

/** Rays a field that a drawing offers. */
export const RAY_COUNTS = [1, 3, 5, 7, 11, 21] as const;

export interface SectionSettings {
  readonly rays: number;
  readonly colours: 'primary' | 'all';
  readonly range: 'whole' | 'lens';
  /** Id of the one field whose rays are drawn; null for all. */
  readonly only: string | null;
}

export const SECTION_DEFAULTS: SectionSettings = { rays: 5, colours: 'primary', range: 'whole', only: null };

export const SPOT_DEFAULTS: SpotSettings = {
  reference: 'centroid',
  pupil: 'clipped',
  sampling: 2,
  box: null,
};
export const FAN_DEFAULTS: FanSettings = { direction: 'both', pupil: 'clipped', scale: null };

export interface MtfSettings {
  readonly method: MtfMethod;
  readonly colours: 'all' | 'primary';
  /** Highest frequency, cycles per mm; null for one that suits the lens. */
  readonly highest: number | null;
}

export const MTF_DEFAULTS: MtfSettings = { method: 'physical', colours: 'all', highest: null };

export function mtfSettings(stored: unknown): MtfSettings {
  const given = asRecord(stored);
  const { method } = given;
  return {
    method: method === 'simple' || method === 'geometric' ? method : MTF_DEFAULTS.method,
    colours: given.colours === 'primary' ? 'primary' : MTF_DEFAULTS.colours,
    highest: positive(given.highest),
  };
}

/** Settings as a project may hold them: whatever is not legal falls back to its default. */
export function spotSettings(stored: unknown): SpotSettings {
  const given = asRecord(stored);
  return {
    reference: given.reference === 'chief' ? 'chief' : SPOT_DEFAULTS.reference,
    pupil: given.pupil === 'full' ? 'full' : SPOT_DEFAULTS.pupil,
    sampling: SAMPLINGS[given.sampling as number] ? (given.sampling as number) : SPOT_DEFAULTS.sampling,
    box: positive(given.box),
  };
}

export function sectionSettings(stored: unknown): SectionSettings {
  const given = asRecord(stored);
  return {
    rays: RAY_COUNTS.find((count) => count === given.rays) ?? SECTION_DEFAULTS.rays,
    colours: given.colours === 'all' ? 'all' : SECTION_DEFAULTS.colours,
    range: given.range === 'lens' ? 'lens' : SECTION_DEFAULTS.range,
    only: typeof given.only === 'string' ? given.only : null,
  };
}

export function fanSettings(stored: unknown): FanSettings {
  const given = asRecord(stored);
  const { direction } = given;
  return {
    direction: direction === 'tangential' || direction === 'sagittal' ? direction : FAN_DEFAULTS.direction,
    pupil: given.pupil === 'full' ? 'full' : FAN_DEFAULTS.pupil,
    scale: positive(given.scale),
  };
}

function asRecord(stored: unknown): Record<string, unknown> {
  return typeof stored === 'object' && stored !== null ? (stored as Record<string, unknown>) : {};
}

function positive(value: unknown): number | null {
  return typeof value === 'number' && Number.isFinite(value) && value > 0 ? value : null;
}
