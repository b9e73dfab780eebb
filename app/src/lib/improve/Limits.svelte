<script lang="ts">
  import PanelFrame from '$lib/components/PanelFrame.svelte';
  import {
    isExceeded,
    limitsOf,
    parseQuantity,
    success,
    USUAL_LIMITS,
    type LimitName,
    type LimitStand,
    type MeritStand,
    type Outcome,
  } from '@ulvex/core';
  import Cell from '$lib/components/Cell.svelte';
  import CellGrid from '$lib/components/CellGrid.svelte';
  import { useDesk } from '$lib/desk/context.ts';
  import { significant } from '$lib/format.ts';

  let { stand }: { stand: MeritStand | null } = $props();
  const desk = useDesk();
  const limits = $derived(limitsOf(desk.base.making));
  const off = $derived(desk.base.making?.off ?? false);

  const share = $derived(
    stand && stand.merit > 0 ? stand.limits.reduce((sum, { square }) => sum + square, 0) / stand.merit ** 2 : 0,
  );

  const WORDS: Readonly<Record<LimitName, readonly [title: string, side: string, unit: string]>> = {
    glassCentre: ['glass, centre', 'at least', 'mm'],
    glassEdge: ['glass, edge', 'at least', 'mm'],
    glassMost: ['glass, centre', 'at most', 'mm'],
    airCentre: ['air, centre', 'at least', 'mm'],
    airMost: ['air, centre', 'at most', 'mm'],
    airEdge: ['air, edge', 'at least', 'mm'],
    stout: ['diameter over thickness', 'at least', ''],
    slender: ['diameter over thickness', 'at most', ''],
    slope: ['slope of a surface', 'at most', '°'],
    incidence: ['angle of incidence', 'at most', '°'],
    length: ['length to the image', 'at most', 'mm'],
    back: ['last surface to the image', 'at least', 'mm'],
    margin: ['glass beyond the rays', 'plus', '%'],
  };
  const NAMES = Object.keys(WORDS) as LimitName[];

  /** The place where a limit is closest, or most exceeded. */
  function closest(name: LimitName): LimitStand | null {
    const rows = stand?.limits.filter(({ limit }) => limit === name) ?? [];
    return rows.reduce<LimitStand | null>((worst, row) => (!worst || row.over > worst.over ? row : worst), null);
  }

  function read(text: string): Outcome<number | null | undefined> {
    if (/^\s*(usual)?\s*$/.test(text)) return success(undefined);
    if (/^\s*(–|-|none|off)\s*$/.test(text)) return success(null);
    const value = parseQuantity(text, { kind: 'number' });
    if (!value.ok) return value;
    return value.value >= 0 ? value : { ok: false, reason: 'A limit is 0 or above; – for none, empty for the usual.' };
  }

  function set(name: LimitName, value: number | null | undefined) {
    const { [name]: _before, ...rest } = desk.base.making ?? {};
    const next = value === undefined ? rest : { ...rest, [name]: value };
    desk.commitDesign(
      [{ kind: 'set', path: 'making', value: Object.keys(next).length > 0 ? next : undefined }],
      `Making-limit: ${WORDS[name][0]}`,
    );
  }

  function toggle() {
    const { off: _off, ...rest } = desk.base.making ?? {};
    const next = off ? rest : { ...rest, off: true as const };
    desk.commitDesign(
      [{ kind: 'set', path: 'making', value: Object.keys(next).length > 0 ? next : undefined }],
      off ? 'Making-limits on' : 'Making-limits off',
    );
  }

  /** What a title begins with that its group says already. */
  const KNOWN = /^(centre of|edge of|slope of|incidence on|diameter over thickness of|gap|edge of the gap) ?/;

  function told(row: LimitStand): string {
    const unit = row.unit === '' ? '' : row.unit === '°' ? '°' : ` ${row.unit}`;
    return `${significant(row.value, 4)}${unit} ${row.title.replace(KNOWN, '')}`;
  }
</script>

<PanelFrame title="Making-limits" data-testid="making-limits">
  {#snippet tools()}
    {#if share > 0.005}<span class="share">{(100 * share).toFixed(0)} % of the square of the merit</span>{/if}
    <label><input type="checkbox" checked={!off} data-testid="making-on" onchange={toggle} /> apply in runs</label>
  {/snippet}
  <div class="limits" class:off>
    <CellGrid columns="minmax(110px, auto) 54px 52px 22px minmax(0, 1fr)">
      {#each NAMES as name, k (name)}
        {@const [title, side, unit] = WORDS[name]}
        {@const row = closest(name)}
        {@const usual = desk.base.making?.[name] === undefined}
        <span>{title}</span><span class="side">{side}</span>
        <Cell
          label="{title}, {side}"
          text={limits[name] === null ? '–' : String(limits[name])}
          muted={usual}
          row={k}
          col={0}
          testid="limit-of-{name}"
          {read}
          oncommit={(value) =>
            value !== desk.base.making?.[name] && !(value === USUAL_LIMITS[name] && usual) && set(name, value)}
        />
        <span class="unit">{unit}</span>
        <span class="closest" class:over={row !== null && isExceeded(row)} title={row?.title}
          >{#if row}{isExceeded(row) ? '✕' : row.over > -0.02 ? '!' : '✓'} {told(row)}{/if}</span
        >
      {/each}
    </CellGrid>
  </div>
</PanelFrame>

<style>
  label {
    color: var(--muted);
    font-size: var(--size-small);
  }

  input {
    accent-color: var(--accent);
  }

  .share {
    color: var(--bad);
    font-size: var(--size-small);
  }

  .limits {
    font-size: var(--size-small);
  }

  .off {
    opacity: 0.5;
  }

  .side,
  .unit,
  .closest {
    color: var(--muted);
  }

  .closest {
    overflow-wrap: anywhere;
    line-height: 1.15;
  }

  .over {
    color: var(--bad);
  }
</style>
