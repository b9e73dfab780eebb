<script lang="ts">
  interface Props {
    /** Kind of a body, or `source`, `detector`. */
    kind: string;
    colour?: string | null;
  }
  let { kind, colour = null }: Props = $props();

  /** Outlines seen from the side, light from the left; 20 × 14. */
  const SHAPES: Readonly<Record<string, string>> = {
    box: 'M5 2h10v10h-10z',
    cylinder: 'M4 3h11c2 0 2 8 0 8h-11c-2 0 -2 -8 0 -8z',
    cone: 'M4 5v4l12 3v-10z',
    tube: 'M2 2h16v3h-16z M2 9h16v3h-16z',
    sphere: 'M10 2a5 5 0 1 0 .01 0z',
    torus: 'M10 1.5a5.5 5.5 0 1 0 .01 0z M10 5a2 2 0 1 0 .01 0z',
    prism: 'M10 1.5l7 11h-14z',
    plate_hole: 'M8 1h4v4h-4z M8 9h4v4h-4z',
    revolved: 'M3 7c0 -4 5 -5 14 -6v12c-9 -1 -14 -2 -14 -6z',
    extruded: 'M3 12v-5l5 -4h4l5 4v5z',
    concentrator: 'M3 1c8 0 12 2 14 4v4c-2 2 -6 4 -14 4z',
    concentrator_shell: 'M3 1c8 0 12 2 14 4v1c-2 -2 -6 -4 -14 -4z M3 13c8 0 12 -2 14 -4v-1c-2 2 -6 4 -14 4z',
    sheet: 'M9.2 1h1.6v12h-1.6z',
    disc: 'M9.2 2h1.6v10h-1.6z',
    shell: 'M7 1c4 4 4 8 0 12c5 -3 5 -9 0 -12z',
    lens: 'M8 1c-3 4 -3 8 0 12h4c3 -4 3 -8 0 -12z',
    lens_block: 'M8 1c-3 4 -3 8 0 12h4c3 -4 3 -8 0 -12z',
    biaxial: 'M7 1c-2 4 -2 8 0 12h3v-12z M10 1v12h3c2 -4 2 -8 0 -12z',
    swept: 'M3 12c0 -7 4 -10 14 -10v4c-7 0 -10 2 -10 6z',
    mesh: 'M10 1l7 5l-3 7h-8l-3 -7z M10 1l-4 12 M10 1l4 12 M3 6h14',
    combined: 'M3 2h9v9h-9z M8 5h9v8h-9z',
    group: 'M3 3h14v8h-14z M6 1v2 M14 1v2',
    source: 'M3 5.5h8v-3l6 4.5l-6 4.5v-3h-8z',
    detector: 'M4 2h12v10h-12z M8 2v10 M12 2v10 M4 5.3h12 M4 8.6h12',
  };
</script>

<svg viewBox="0 0 20 14" width="20" height="14" aria-hidden="true">
  <path
    d={SHAPES[kind] ?? SHAPES.box}
    fill={colour ?? (kind === 'detector' ? 'none' : 'var(--glass-2)')}
    stroke={colour ?? 'var(--glass-edge)'}
    fill-rule="evenodd"
  />
</svg>
