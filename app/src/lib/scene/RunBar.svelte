<script lang="ts">
  import { aimTargets, energyLines, energyOf, MOST_AIMS, thingTitle, type Scene } from '@ulvex/core';
  import Button from '$lib/components/Button.svelte';
  import ParameterCell from '$lib/components/ParameterCell.svelte';
  import { significant } from '$lib/format.ts';
  import { useDesk } from '$lib/desk/context.ts';
  import type { SceneRun } from './scene-run.svelte.ts';

  interface Props {
    scene: Scene;
    run: SceneRun;
    current: boolean;
    /** Relative standard error of the flux on the detector that is shown, at which the run may end; 0 for all rays. */
    target: number;
    onstart: () => void;
    /** Faces and laws that the compiled tracer does not know. */
    slow: readonly string[];
  }
  let { scene, run, current, target = $bindable(), onstart, slow }: Props = $props();
  let open = $state(false);
  const TARGETS = [0, 0.1, 0.03, 0.01, 0.003];
  const desk = useDesk();
  const at = $derived(`scenes.${scene.id}.sampling`);
  const aims = $derived(scene.sampling.aims ?? []);
  const nameOf = (id: string) => thingTitle(aimTargets(scene).find((thing) => thing.id === id) ?? { id });
  const energy = $derived(run.tally && run.tally.ledger.launched > 0 ? energyOf(run.tally) : null);
  const book = $derived(energy ? energyLines(energy) : []);
  const percent = $derived(Math.round(100 * (run.progress ?? 0)));
  const words = $derived(
    run.active
      ? ` ${percent} %`
      : run.state === 'done'
        ? current
          ? `${(run.tally?.rays ?? 0).toLocaleString('en')} rays · ${significant(run.elapsed / 1000, 2)} s`
          : 'of an earlier model'
        : run.state === 'paused'
          ? `stopped at ${percent} %`
          : run.state === 'failed'
            ? `✕ ${run.reason}`
            : 'not traced',
  );
</script>

<div class="bar" data-testid="run-bar" data-state={run.state} data-revision={run.revision}>
  {#if run.active}
    <Button strong onclick={() => run.pause()} data-testid="run-stop">Stop</Button>
  {:else if run.state === 'paused'}
    <Button strong onclick={() => run.resume()} data-testid="run-resume">Resume</Button>
  {:else}
    <Button strong onclick={onstart} data-testid="run-start" title="Trace the rays of the scene anew">Trace</Button>
  {/if}
  <Button
    onclick={() => run.extend(10)}
    disabled={run.active || !current || !run.tally}
    data-testid="run-more"
    title="Go on until there are ten times the rays; what was traced counts">10 × more</Button
  >
  <span class="words" data-testid="run-words"
    >{#if run.active}<progress value={run.progress ?? 0} max="1" aria-label="Rays traced"></progress>{/if}{words}</span
  >
  <Button
    small
    aria-expanded={open}
    data-testid="run-settings"
    title="Rays, precision, seed, splitting, importance sampling"
    onclick={() => (open = !open)}>⋯</Button
  >
</div>
{#if open}
  <div class="bar settings" role="group" aria-label="How the scene is traced">
    <label
      >Rays <span class="cell"
        ><ParameterCell address="{at}.rays" label="Rays" change="Rays of the scene" testid="scene-rays" /></span
      ></label
    >
    <label>
      <select
        aria-label="When a run ends"
        title="A run ends when the flux on the shown detector is known so well, or with its last ray"
        data-testid="run-target"
        bind:value={target}
      >
        {#each TARGETS as share (share)}<option value={share}
            >{share === 0 ? 'all rays' : `until ±${100 * share} %`}</option
          >{/each}
      </select>
    </label>
    <label
      >Seed <span class="cell small"><ParameterCell address="{at}.seed" label="Seed" change="Seed of the scene" /></span
      ></label
    >
    <label>
      <select
        aria-label="How rays go on at a face"
        title="Follow all light that leaves a face, or one path chosen at random by its share"
        value={scene.sampling.splitting}
        onchange={(event) =>
          desk.commit([{ kind: 'set', path: `${at}.splitting`, value: event.currentTarget.value }], 'How rays go on')}
      >
        <option value="split">split rays</option><option value="one">one random path</option>
      </select>
    </label>
    <label>
      <select
        aria-label="Importance sampling of scattered light"
        title="Scattered light is also sent straight to the chosen targets, with the flux that goes there: weak stray light is found with few rays"
        data-testid="scatter-aims"
        value=""
        onchange={(event) => {
          const id = event.currentTarget.value;
          event.currentTarget.value = '';
          const next = aims.includes(id) ? aims.filter((one) => one !== id) : [...aims, id];
          desk.commit(
            [{ kind: 'set', path: `${at}.aims`, value: next.length > 0 ? next : undefined }],
            'Importance sampling',
          );
        }}
      >
        <option value="" hidden
          >{aims.length === 0
            ? 'no importance sampling'
            : `importance sampling: ${aims.length === 1 ? nameOf(aims[0]) : `${aims.length} targets`}`}</option
        >
        {#each aimTargets(scene) as thing (thing.id)}<option
            value={thing.id}
            disabled={aims.length >= MOST_AIMS && !aims.includes(thing.id)}
            >{aims.includes(thing.id) ? '✓ ' : ''}{thingTitle(thing)}</option
          >{/each}
      </select>
    </label>
    <label
      >Threshold <span class="cell"
        ><ParameterCell address="{at}.threshold" label="Threshold" change="Threshold of the scene" /></span
      ></label
    >
    {#if slow.length > 0}<p>Handled one ray at a time, and slower: {slow.join(', ')}.</p>{/if}
  </div>
{/if}
<div class="strip" aria-hidden="true">
  {#each book.filter(({ share }) => share > 0) as { key, share } (key)}<i class={key} style:flex-grow={share}
    ></i>{/each}
</div>
<p class="book" data-testid="energy-book">
  {#if energy}
    <span title="{significant(energy.launched, 6)} W">launched <b>{significant(energy.launched, 4)} W</b></span>
  {/if}
  {#each book as { key, short, share, watts } (key)}
    <span title="{significant(watts, 6)} W">{short} <b>{significant(100 * share, 3)} %</b></span>
  {/each}
</p>

<style>
  .bar {
    display: flex;
    flex-wrap: wrap;
    gap: 4px 7px;
    align-items: center;
    color: var(--muted);
    font-size: var(--size-small);
  }

  progress {
    width: 60px;
    height: 7px;
    accent-color: var(--accent);
  }

  .words {
    flex: 1;
    min-width: 74px;
  }

  .settings {
    padding: 5px 7px;
    border: 1px solid var(--line);
    border-radius: var(--radius);
    background: var(--card);
  }

  .settings p {
    flex-basis: 100%;
    margin: 0;
  }

  .strip {
    display: flex;
    gap: 1px;
    height: 10px;
    margin-top: 5px;
  }

  .strip i {
    flex: 0 1 0;
    min-width: 1px;
    background: var(--line);
  }

  .strip .detected {
    background: var(--glass-edge);
  }

  .strip .absorbed {
    background: var(--muted);
  }

  .strip .inBodies {
    background: var(--glass-2);
  }

  .strip .escaped {
    background: var(--line);
  }

  .strip .cutOff {
    background: var(--bad);
  }

  label {
    display: flex;
    gap: 4px;
    align-items: center;
  }

  .cell {
    width: 60px;
    border-bottom: 1px solid var(--line);
  }

  .small {
    width: 30px;
  }

  .book {
    display: flex;
    flex-wrap: wrap;
    gap: 0 14px;
    min-height: 1.4em;
    color: var(--muted);
    font-size: var(--size-small);
  }

  .book b {
    color: var(--ink);
    font-weight: 500;
  }
</style>
