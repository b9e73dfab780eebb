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

/** Settings as a project may hold them: whatever is not legal falls back to its default. */
export function sectionSettings(stored: unknown): SectionSettings {
  const given = asRecord(stored);
  return {
    rays: RAY_COUNTS.find((count) => count === given.rays) ?? SECTION_DEFAULTS.rays,
    colours: given.colours === 'all' ? 'all' : SECTION_DEFAULTS.colours,
    range: given.range === 'lens' ? 'lens' : SECTION_DEFAULTS.range,
    only: typeof given.only === 'string' ? given.only : null,
  };
}

function asRecord(stored: unknown): Record<string, unknown> {
  return typeof stored === 'object' && stored !== null ? (stored as Record<string, unknown>) : {};
}
