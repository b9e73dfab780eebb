<script lang="ts">
  import { wavelengthName, type Finding } from '@ulvex/core';
  import { fieldColours, namedOf } from '$lib/colours.ts';
  import { useDesk } from '$lib/desk/context.ts';
  import { fieldLabel } from '$lib/desk/labels.ts';
  import SectionDrawing from '$lib/drawing/SectionDrawing.svelte';
  import { columns } from '$lib/prescription/columns.svelte.ts';
  import Findings from '$lib/prescription/Findings.svelte';
  import Prescription from '$lib/prescription/Prescription.svelte';
  import ExportMenu from '$lib/tiles/ExportMenu.svelte';
  import { fieldLegend } from '$lib/tiles/legends.ts';
  import { RAY_COUNTS } from '$lib/tiles/settings.ts';
  import SwitchedPlace from '$lib/tiles/SwitchedPlace.svelte';
  import { numberTitle, readable } from '$lib/desk/number-state.ts';
  import HalfTabs from '$lib/scene/HalfTabs.svelte';
  import SurfacePanel from '$lib/surface/SurfacePanel.svelte';
  import AnalysisTile from '$lib/tiles/AnalysisTile.svelte';
  import { ui } from '$lib/desk/ui.svelte.ts';
  import Half from '$lib/components/Half.svelte';
  import Trouble from '$lib/components/Trouble.svelte';

  let rays = $state(7);
  let only = $state<string | null>(null);
  let colours = $state<'primary' | 'all'>('primary');
  /** What the user has chosen to see; by itself the lens alone where its image lies far off. */
  let asked = $state<'whole' | 'lens' | null>(null);
  const far = $derived.by(() => {
    const gaps = desk.lens?.surfaces.map(({ after }) => Math.abs(after?.thickness ?? 0)) ?? [];
    const length = gaps.slice(0, -2).reduce((sum, gap) => sum + gap, 0);
    return length > 0 && (gaps.at(-2) ?? 0) > FAR * length;
  });
  const range = $derived(asked ?? (far ? 'lens' : 'whole'));
  let drawing = $state<SectionDrawing | null>(null);
  let spots = $state.raw<unknown>({});
  let fans = $state.raw<unknown>({ direction: 'tangential' });
  /** Image distances over the length of the lens from which on a drawing to the image would show the lens as a dot. */
  const FAR = 15;
  const SECOND = [
    ['fans', 'Ray fans'],
    ['first-order', 'First order'],
    ['ray', 'Ray inspector'],
  ] as const;
  const desk = useDesk();
  const section = desk.live.query(() =>
    desk.lens
      ? {
          kind: 'section',
          lens: desk.lens.id,
          raysPerField: rays,
          colours,
          range,
          ...(only !== null && { fields: [only] }),
        }
      : null,
  );
  const beforeSection = desk.referenceLive.query(() =>
    desk.reference && desk.lens ? { kind: 'section', lens: desk.lens.id, raysPerField: 1, range } : null,
  );
  /** Whether the other states are drawn in outline underneath. */
  let overlaid = $state(false);
  const otherStates = $derived(
    ['designed', ...(desk.base.states ?? []).map(({ id }) => id)].filter((id) => id !== (desk.state ?? 'designed')),
  );
  const otherSections = desk.live.query(() =>
    desk.lens && overlaid && desk.base.states
      ? { kind: 'section_states', lens: desk.lens.id, raysPerField: 1, range, states: otherStates, state: 'designed' }
      : null,
  );
  const found = desk.live.query(() => (desk.lens ? { kind: 'findings', lens: desk.lens.id } : null));

  /** Links and conditions that do not hold come first. */
  const broken = $derived(
    desk.broken.map(({ address, reason }): Finding => {
      const [root, , , surface] = address.split('.');
      const text = `${numberTitle(desk.project, address)}: ${readable(desk.project, reason)}`;
      return { severity: 'error', text, ...(root === 'lenses' && surface && { where: surface }) };
    }),
  );
  const findings = $derived([...broken, ...(found.answer?.ok ? found.answer.value : [])]);
  const semis = $derived(
    new Map(
      section.answer?.ok
        ? section.answer.value.surfaces.map(({ id, semi, automatic }) => [id, { semi, automatic }])
        : [],
    ),
  );
  const fields = $derived(desk.lens?.fields.points ?? []);
  const ramp = $derived(fieldColours(fields.length));
  const primary = $derived(desk.lens?.wavelengths.find((wave) => wave.id === desk.lens?.primary));
</script>

<div class="room" style:--list="{columns.width}px">
  <Half left aria-label="Prescription">
    <header class="apart">
      <HalfTabs />
      {#if desk.base.lenses.length > 1}
        <select
          aria-label="Lens"
          title="The lens that all rooms look at"
          data-testid="lens-choice"
          value={desk.lens?.id}
          onchange={(event) => desk.lookAtLens(event.currentTarget.value)}
        >
          {#each desk.base.lenses as { id, name } (id)}<option value={id}>{name || id}</option>{/each}
        </select>
      {/if}
      <span>mm</span>
    </header>
    <svelte:boundary>
      <Prescription {findings} {semis} />
      {#snippet failed(error, reset)}<Trouble what="prescription" {error} {reset} />{/snippet}
    </svelte:boundary>
    {#if ui.operating !== null}
      {#await import('$lib/operations/OperationPanel.svelte') then { default: OperationPanel }}<OperationPanel
        />{/await}
    {:else}<SurfacePanel {semis} />{/if}
    <Findings {findings} failure={desk.live.failure} />
  </Half>
  <Half aria-label="Drawing and tiles">
    <header class="wraps">
      <h2>Section</h2>
      {#if desk.state !== null}<span class="state" data-testid="drawn-state"
          >{desk.base.states?.find(({ id }) => id === desk.state)?.name}</span
        >{/if}
      {#each namedOf(fields.length) as i (fields[i].id)}
        {@const field = fields[i]}
        <button
          class="field"
          aria-pressed={only === field.id}
          class:off={only !== null && only !== field.id}
          title="Show the rays of this field only; click again for all"
          onclick={() => (only = only === field.id ? null : field.id)}
          ><i style:background={ramp[i]}></i>{desk.lens ? fieldLabel(desk.lens.fields.kind, field) : ''}</button
        >
      {/each}
      {#if fields.length > namedOf(fields.length).length}<span class="muted">of {fields.length} fields</span>{/if}
      <select aria-label="Rays a field" title="Rays a field" data-testid="ray-count" bind:value={rays}>
        {#each RAY_COUNTS as count (count)}<option value={count}>{count} {count === 1 ? 'ray' : 'rays'} a field</option
          >{/each}
      </select>
      <select aria-label="Colours of the rays" title="Colours of the rays" bind:value={colours}>
        <option value="primary">{primary ? wavelengthName(primary.nm) : 'primary'}</option>
        <option value="all">all colours</option>
      </select>
      <select
        aria-label="What is drawn"
        title="What is drawn"
        data-testid="range"
        value={range}
        onchange={(event) => (asked = event.currentTarget.value as 'whole' | 'lens')}
      >
        <option value="whole">to the image</option><option value="lens">lens only</option>
      </select>
      {#if desk.base.states}
        <label title="The other states in outline underneath"
          ><input type="checkbox" bind:checked={overlaid} data-testid="overlay-states" /> other states</label
        >
      {/if}
      <span class="tools"
        ><ExportMenu
          name="section"
          title="Section"
          exports={{ svg: () => drawing?.svg() ?? null, legend: () => fieldLegend(desk.lens) }}
        /></span
      >
    </header>
    <div class="picture" data-carries={section.revision}>
      <svelte:boundary>
        {#if section.answer?.ok}
          <SectionDrawing
            bind:this={drawing}
            section={section.answer.value}
            reference={desk.reference && beforeSection.answer?.ok ? beforeSection.answer.value : null}
            others={overlaid && otherSections.answer?.ok ? otherSections.answer.value : []}
            editable
            oninspect={({ field, py, nm }) => {
              const wavelength = desk.lens?.wavelengths.find((wave) => wave.nm === nm)?.id ?? null;
              ui.inspected = { source: { kind: 'pupil', field, px: 0, py }, wavelength };
              ui.secondTile = 'ray';
            }}
          />
        {:else if section.answer}
          <p class="none">✕ {section.answer.reason}</p>
        {/if}
        {#snippet failed(error, reset)}<Trouble what="drawing" {error} {reset} />{/snippet}
      </svelte:boundary>
    </div>
    <div class="tiles" class:wide={ui.secondTile === 'ray'}>
      <AnalysisTile kind="spots" settings={spots} onsettings={(settings) => (spots = settings)} />
      <SwitchedPlace
        choices={SECOND}
        shown={ui.secondTile}
        choose={(kind) => (ui.secondTile = kind as typeof ui.secondTile)}
      >
        {#if ui.secondTile === 'fans'}
          <AnalysisTile kind="ray_fans" settings={fans} onsettings={(settings) => (fans = settings)} />
        {:else if ui.secondTile === 'ray'}
          {#await import('$lib/tiles/RayTile.svelte') then { default: RayTile }}
            <RayTile settings={ui.inspected} onsettings={(settings) => (ui.inspected = settings)} />
          {/await}
        {:else}
          <AnalysisTile kind="first_order" settings={{}} onsettings={() => {}} />
        {/if}
      </SwitchedPlace>
    </div>
  </Half>
</div>

<style>
  .room {
    display: grid;
    grid-template-columns: var(--list) minmax(0, 1fr);
    height: 100%;
  }

  header {
    display: flex;
    align-items: baseline;
    gap: 14px;
    color: var(--muted);
    font-size: var(--size-small);
  }

  header > * {
    flex-shrink: 0;
    white-space: nowrap;
  }

  .wraps {
    flex-wrap: wrap;
    row-gap: 2px;
  }

  .apart {
    justify-content: space-between;
  }

  h2 {
    padding-bottom: 2px;
    border-bottom: 2px solid var(--accent);
    color: var(--ink);
    font-size: var(--size);
  }

  .tools {
    margin-left: auto;
  }

  .state {
    color: var(--accent);
    font-weight: 650;
  }

  .field,
  header select {
    padding: 0 2px;
    border: 1px solid transparent;
    border-radius: var(--radius);
    background: none;
    color: inherit;
    font-size: inherit;
  }

  .field:hover,
  header select:hover {
    border-color: var(--line);
  }

  .off {
    opacity: 0.55;
  }

  .field i {
    display: inline-block;
    width: 14px;
    height: 3px;
    margin-right: 5px;
    vertical-align: middle;
  }

  .picture {
    flex: 1 1 0;
    min-height: 160px;
    contain: strict;
  }

  .tiles {
    display: grid;
    flex: 0 0 clamp(196px, 30%, 300px);
    grid-template-columns: minmax(0, 1fr) minmax(0, 1fr);
    gap: 10px;
    min-height: 0;
  }

  .wide {
    grid-template-columns: minmax(0, 2fr) minmax(0, 3fr);
  }

  .none {
    color: var(--bad);
  }
</style>
