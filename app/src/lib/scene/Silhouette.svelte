<script lang="ts">
  import { bodyDefinition } from '@ulvex/core';

  interface Props {
    /** Kind of a body, or `source`, `detector`. */
    kind: string;
    colour?: string | null;
  }
  let { kind, colour = null }: Props = $props();

  /** What has no registered outline, seen from the side, light from the left; 20 × 14. */
  const SHAPES: Readonly<Record<string, string>> = {
    lens: 'M8 1c-3 4 -3 8 0 12h4c3 -4 3 -8 0 -12z',
    mesh: 'M10 1l7 5l-3 7h-8l-3 -7z M10 1l-4 12 M10 1l4 12 M3 6h14',
    combined: 'M3 2h9v9h-9z M8 5h9v8h-9z',
    group: 'M3 3h14v8h-14z M6 1v2 M14 1v2',
    source: 'M3 5.5h8v-3l6 4.5l-6 4.5v-3h-8z',
    detector: 'M4 2h12v10h-12z M8 2v10 M12 2v10 M4 5.3h12 M4 8.6h12',
  };
</script>

<svg viewBox="0 0 20 14" width="20" height="14" aria-hidden="true">
  <path
    d={bodyDefinition(kind)?.sketch ?? SHAPES[kind]}
    fill={colour ?? (kind === 'detector' ? 'none' : 'var(--glass-2)')}
    stroke={colour ?? 'var(--glass-edge)'}
    fill-rule="evenodd"
  />
</svg>
