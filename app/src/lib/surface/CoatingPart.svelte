<script lang="ts">
  import { findFinish, glassAirSurfaces, setSurfaceFinish, type Finish, type Lens, type Surface } from '@ulvex/core';
  import Button from '$lib/components/Button.svelte';
  import { useDesk } from '$lib/desk/context.ts';
  import { significant } from '$lib/format.ts';
  import FinishChoice from './FinishChoice.svelte';

  interface Props {
    lens: Lens;
    surface: Surface;
    title: string;
  }
  let { lens, surface, title }: Props = $props();
  const desk = useDesk();
  const coatable = $derived(glassAirSurfaces(desk.shown, lens));
  /** The others between glass and air that are coated otherwise. */
  const others = $derived(
    coatable.filter((id) => lens.surfaces.find((one) => one.id === id)?.finish !== surface.finish),
  );
  const finish = $derived(surface.finish === undefined ? null : (findFinish(desk.shown, surface.finish) ?? null));

  const query = desk.live.query(
    () => ({ kind: 'analysis', analysis: 'light_losses', lens: lens.id, settings: {}, detail: 'full' }) as const,
  );
  const losses = $derived.by(() => {
    const panel = query.answer?.ok ? query.answer.value.panels[0] : null;
    return panel?.kind === 'table' ? panel : null;
  });
  const lost = $derived(losses?.rows.find(([id]) => id === surface.id)?.[2] ?? null);
  const through = $derived(losses?.total?.[2] ?? null);

  const give = (ids: readonly string[], one: Finish | null) =>
    desk.perform(setSurfaceFinish(desk.project, lens, ids, one));
</script>

{#if surface.after === null}
  <p>The image is where light is looked at: it carries no finish.</p>
{:else}
  <p>
    <FinishChoice
      label="Coating of {title}"
      testid="surface-finish"
      value={surface.finish ?? ''}
      none={surface.reflects ? 'perfect mirror' : 'bare'}
      onchoose={(one) => give([surface.id], one)}
    />
    {#if finish}<a href="/shelf/finishes?finish={finish.id}" data-testid="surface-finish-edit">curves and films…</a
      >{/if}
    {#if others.length > 0 && coatable.includes(surface.id) && (finish || surface.finish === undefined)}
      <Button
        small
        data-testid="coat-all"
        title="{coatable.length} surfaces part glass from air"
        onclick={() => give(coatable, finish)}
        >{surface.finish ? 'coat all glass–air surfaces so' : 'make all glass–air surfaces bare'}</Button
      >
    {/if}
  </p>
  {#if finish?.note}<p>{finish.note}</p>{/if}
  {#if typeof lost === 'number'}
    <p data-testid="coating-loss">
      Here {significant(lost, 3)} % of the light is lost{#if typeof through === 'number'}; {significant(through, 4)} % comes
        through the whole lens{/if}
      (widest field, primary wavelength). Over wavelength and field: add <em>transmission</em> to a board of Study.
    </p>
  {/if}
{/if}

<style>
  p {
    display: flex;
    flex-wrap: wrap;
    gap: 4px 10px;
    align-items: center;
    margin: 0 0 6px;
    color: var(--muted);
    font-size: var(--size-small);
  }

  [data-testid='coating-loss'] {
    display: block;
  }
</style>
