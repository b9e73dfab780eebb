<script lang="ts">
  import { SEIDEL_KEYS, type SeidelSums } from '@ulvex/core';
  import { useDesk } from '$lib/desk/context.ts';
  import { surfaceLabels } from '$lib/desk/lens-words.ts';
  import { significant } from '$lib/format.ts';
  import ExportMenu from './ExportMenu.svelte';
  import Tile from './Tile.svelte';

  interface Props {
    settings: unknown;
    onsettings: (settings: { readonly unit: 'mm' | 'waves' }) => void;
  }
  let { settings, onsettings }: Props = $props();
  const desk = useDesk();
  const unit = $derived((settings as { unit?: unknown } | undefined)?.unit === 'mm' ? 'mm' : 'waves');
  const query = desk.live.query(() => (desk.lens ? { kind: 'seidel', lens: desk.lens.id } : null));
  const beforeQuery = desk.referenceLive.query(() =>
    desk.reference && desk.lens ? { kind: 'seidel', lens: desk.lens.id } : null,
  );
  const table = $derived(query.answer?.ok ? query.answer.value : null);
  const before = $derived(desk.reference && beforeQuery.answer?.ok ? beforeQuery.answer.value : null);

  const labels = $derived(surfaceLabels(desk.lens));

  const WORDS: Readonly<Record<keyof SeidelSums, readonly [mm: string, waves: string, title: string]>> = {
    s1: ['S₁', 'W040', 'spherical aberration'],
    s2: ['S₂', 'W131', 'coma'],
    s3: ['S₃', 'W222', 'astigmatism'],
    s4: ['S₄', 'W220p', 'Petzval curvature'],
    s5: ['S₅', 'W311', 'distortion'],
    c1: ['C₁', 'W020', 'axial colour'],
    c2: ['C₂', 'W111', 'lateral colour'],
  };
  const PER: Readonly<Record<keyof SeidelSums, number>> = { s1: 8, s2: 2, s3: 2, s4: 4, s5: 2, c1: 2, c2: 1 };
  const value = (sums: SeidelSums, key: keyof SeidelSums) =>
    unit === 'mm' ? sums[key] : sums[key] / PER[key] / ((table?.nm ?? 1) * 1e-6);
  /** Largest share of any surface in a column: what its bars are drawn against. */
  const largest = $derived(
    Object.fromEntries(
      SEIDEL_KEYS.map((key) => [key, Math.max(1e-300, ...(table?.surfaces ?? []).map((one) => Math.abs(one[key])))]),
    ) as Record<keyof SeidelSums, number>,
  );
  const shown = (number: number) => (Math.abs(number) < 5e-5 ? '0' : significant(number, 3));
  /** What adds most to the wavefront at the edge of the field, and how much of it the surfaces balance. */
  const words = $derived.by(() => {
    if (!table) return '';
    const keys = (['s1', 's2', 's3', 's4'] as const).map((key) => ({
      key,
      total: Math.abs(table.total[key]) / PER[key],
      parts: table.surfaces.reduce((sum, one) => sum + Math.abs(one[key]), 0) / PER[key],
    }));
    const worst = keys.reduce((a, b) => (b.total > a.total ? b : a));
    const source = table.surfaces.reduce(
      (a, b) => (Math.abs(b[worst.key]) > Math.abs(a[worst.key]) ? b : a),
      table.surfaces[0],
    );
    if (!source || worst.parts === 0) return 'No third-order aberration of any size.';
    const left = Math.round((100 * worst.total) / worst.parts);
    return (
      `Most comes from ${WORDS[worst.key][2]}, first of all at ${labels.get(source.id) ?? source.id}; of ` +
      `what the surfaces make of it ${left} % is left.`
    );
  });
  const about = $derived(
    table
      ? `third order of ${table.nm} nm at the edge of pupil and field, colour ${table.shortest} to ` +
          `${table.longest} nm, undercorrected positive · ${unit}${before ? ' · reference in grey' : ''}`
      : '',
  );

  const csv = () =>
    table && [
      ['surface', ...SEIDEL_KEYS.map((key) => `${key} mm`)],
      ...table.surfaces.map((one) => [one.id, ...SEIDEL_KEYS.map((key) => one[key])]),
      ['total', ...SEIDEL_KEYS.map((key) => table.total[key])],
    ];
</script>

<Tile title="Seidel sums" {about} testid="seidel-tile" carries={query.revision}>
  {#snippet tools()}<ExportMenu name="seidel" exports={{ csv }} />{/snippet}
  {#snippet choices()}
    <label
      >in <select
        value={unit}
        data-testid="seidel-unit"
        onchange={(event) => onsettings({ unit: event.currentTarget.value as 'mm' })}
      >
        <option value="waves">waves</option><option value="mm">mm</option>
      </select></label
    >
  {/snippet}
  {#if query.answer && !query.answer.ok}
    <p class="none">✕ {query.answer.reason}</p>
  {:else if table}
    <p class="words">{words}</p>
    <div class="scroll">
      <table>
        <thead
          ><tr
            ><th></th>{#each SEIDEL_KEYS as key (key)}<th title={WORDS[key][2]}>{WORDS[key][unit === 'mm' ? 0 : 1]}</th
              >{/each}</tr
          ></thead
        >
        <tbody>
          {#each table.surfaces as one (one.id)}
            <tr>
              <th>{labels.get(one.id) ?? one.id}</th>
              {#each SEIDEL_KEYS as key (key)}
                <td
                  ><i class:minus={one[key] < 0} style:width="{Math.round((40 * Math.abs(one[key])) / largest[key])}%"
                  ></i>{shown(value(one, key))}</td
                >
              {/each}
            </tr>
          {/each}
        </tbody>
        <tfoot>
          <tr class="total"
            ><th>lens</th>{#each SEIDEL_KEYS as key (key)}<td data-testid="seidel-{key}"
                >{shown(value(table.total, key))}</td
              >{/each}</tr
          >
          {#if before}
            <tr class="before"
              ><th>reference</th>{#each SEIDEL_KEYS as key (key)}<td>{shown(value(before.total, key))}</td>{/each}</tr
            >
          {/if}
        </tfoot>
      </table>
    </div>
  {/if}
</Tile>

<style>
  .none {
    color: var(--bad);
    font-size: var(--size-small);
  }

  .words {
    margin: 0 0 4px;
    font-size: var(--size-small);
  }

  .scroll {
    max-height: calc(100% - 24px);
    overflow: auto;
  }

  table {
    width: 100%;
    border-collapse: collapse;
    font-family: var(--font-mono);
    font-size: var(--size-small);
    font-variant-numeric: tabular-nums;
  }

  th {
    padding: 1px 6px;
    color: var(--muted);
    font-weight: 400;
    text-align: right;
  }

  tbody th,
  tfoot th {
    font-family: var(--font-ui);
    text-align: left;
  }

  td {
    position: relative;
    padding: 1px 6px;
    text-align: right;
  }

  i {
    position: absolute;
    top: 3px;
    bottom: 3px;
    left: 2px;
    background: var(--glass-2);
    opacity: 0.8;
  }

  i.minus {
    background: var(--accent-ground);
  }

  .total {
    border-top: 1px solid var(--ink);
    font-weight: 600;
  }

  .before {
    color: var(--muted);
  }
</style>
