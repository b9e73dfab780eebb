<script lang="ts">
  import { addScene, detectorNumbers, thingTitle, type Detector } from '@ulvex/core';
  import { goto } from '$app/navigation';
  import { ui } from '$lib/desk/ui.svelte.ts';
  import { addTile, boardsOf } from '$lib/study/board-edits.ts';
  import { untrack } from 'svelte';
  import { SvelteSet } from 'svelte/reactivity';
  import Half from '$lib/components/Half.svelte';
  import Button from '$lib/components/Button.svelte';
  import Trouble from '$lib/components/Trouble.svelte';
  import { useDesk } from '$lib/desk/context.ts';
  import Findings from '$lib/prescription/Findings.svelte';
  import AddPalette from '$lib/scene/AddPalette.svelte';
  import HalfTabs from '$lib/scene/HalfTabs.svelte';
  import MapTile from '$lib/scene/MapTile.svelte';
  import PartsList from '$lib/scene/PartsList.svelte';
  import RunBar from '$lib/scene/RunBar.svelte';
  import { SceneRun } from '$lib/scene/scene-run.svelte.ts';
  import SceneDrawing from '$lib/drawing/SceneDrawing.svelte';
  import ThingPanel from '$lib/scene/ThingPanel.svelte';
  import type { MapPicture } from '$lib/drawing/view3d.ts';

  const desk = useDesk();
  let count = $state(30);
  const scene = $derived(desk.scene);
  const drawn = desk.live.query(() => (desk.scene ? { kind: 'scene_view', scene: desk.scene.id } : null));
  const lines = desk.live.query(() => (desk.scene ? { kind: 'scene_rays', scene: desk.scene.id, rays: count } : null));
  const view = $derived(drawn.answer?.ok ? drawn.answer.value : null);
  const rays = $derived(lines.answer?.ok ? lines.answer.value : null);
  const hidden = new SvelteSet<string>();
  let list = $state<PartsList>();
  const slow = $derived(view?.slow ?? []);
  let pictures = $state.raw<readonly MapPicture[]>([]);

  const run = desk.runs.of('trace', '', () => new SceneRun(desk.runs));
  let target = $state(0); // relative standard error of the flux on the shown detector that is enough; 0 for all rays
  let shownDetector = $state('');
  run.enough = (tally) => {
    const index = tally.detectors.findIndex(({ id }) => id === shownDetector);
    const meter = view?.meters.find(({ id }) => id === shownDetector);
    if (target === 0 || index < 0 || !meter) return false;
    const { flux } = detectorNumbers(meter, tally.detectors[index], tally.chunks);
    return flux.value > 0 && flux.standardError <= target * flux.value;
  };

  function start() {
    const { project, revision } = desk;
    const one = project.scenes?.[0];
    if (one) run.start(project, one.id, one.sampling.rays, revision);
  }

  // Every version of the project is traced once it is settled, which drops a trace of an older one.
  $effect(() => {
    const settled = desk.live.settled;
    const { project } = desk;
    if (desk.shown !== project || !scene || settled !== desk.revision) return;
    untrack(() => run.isOf(project, desk.revision) || start());
  });
  const current = $derived(run.revision === desk.revision && run.state !== 'failed');

  function onpicture(detector: string, canvas: HTMLCanvasElement | null) {
    shownDetector = detector;
    pictures = canvas ? [{ detector, canvas }] : [];
  }

  /** Puts the map of a detector on a board for light, and goes there. */
  function onboard(detector: Detector) {
    const boards = boardsOf(desk.project);
    const board = boards.find(({ tiles }) => tiles.some(({ kind }) => kind === 'detector_map')) ?? boards.at(-1)!;
    const settings = { detector: detector.id };
    desk.commit(
      addTile(desk.project, board, { kind: 'detector_map', columns: 6, rows: 2, settings }),
      `Put ${thingTitle(detector)} on the board`,
    );
    ui.board = board.id;
    void goto('/study');
  }

  function toggle(part: string) {
    if (hidden.has(part)) hidden.delete(part);
    else hidden.add(part);
  }

  const KINDS = {
    overlap: 'Bodies overlap',
    leak: 'Light escapes from inside a body: the body is not closed',
    opaque: 'Light meets a body that has no medium',
  } as const;
  const REMEDIES = {
    overlap: 'Move them apart, or put one wholly into the other.',
    leak: 'Close it, or move what crosses its faces.',
    opaque: 'Give it a material, or a finish that lets nothing through.',
  } as const;
  const mishaps = $derived(
    (run.tally?.mishaps ?? []).map(({ kind, between, at, count: times }) => ({
      severity: 'warning' as const,
      text:
        `${KINDS[kind]}: ${between.join(' and ')}, ${times} rays, ` +
        `first at x, y, z ${at.map((value) => value.toPrecision(5)).join(', ')} mm. ${REMEDIES[kind]}`,
    })),
  );
  const findings = $derived([
    ...(view?.findings ?? []).filter(({ where }) => where !== desk.thing?.id),
    ...(current ? mishaps : []),
  ]);
</script>

<div class="room">
  <Half left aria-label="Things of the scene">
    <header>
      <HalfTabs />
      {#if scene}<AddPalette project={desk.project} onadd={(word) => list?.add(word)} />{/if}
    </header>
    {#if scene}
      <svelte:boundary>
        <div class="list"><PartsList bind:this={list} {scene} {view} {hidden} onhide={toggle} /></div>
        {#snippet failed(error, reset)}<Trouble what="list of things" {error} {reset} />{/snippet}
      </svelte:boundary>
      <Findings {findings} failure={desk.live.failure} />
    {:else}
      <p class="none">
        This project has no scene yet: the place where lenses stand among bodies, sources and detectors, and light is
        followed wherever it goes.
      </p>
      <p>
        <Button onclick={() => desk.commit(addScene(desk.project), 'Add a scene')} data-testid="scene-begin"
          >Add a scene</Button
        >
      </p>
    {/if}
  </Half>
  <Half left aria-label="Drawing" data-carries={drawn.revision}>
    {#if scene}
      <svelte:boundary>
        {#if view}
          <SceneDrawing {scene} {view} {rays} {hidden} maps={pictures} bind:count />
        {:else if drawn.answer && !drawn.answer.ok}<p class="bad">✕ {drawn.answer.reason}</p>{/if}
        {#snippet failed(error, reset)}<Trouble what="drawing" {error} {reset} />{/snippet}
      </svelte:boundary>
      <svelte:boundary>
        <ThingPanel {scene} {view} />
        {#snippet failed(error, reset)}<Trouble what="numbers of the chosen thing" {error} {reset} />{/snippet}
      </svelte:boundary>
    {/if}
  </Half>
  <Half aria-label="Light">
    {#if scene}
      <div class="runs"><RunBar {scene} {run} {current} {slow} bind:target onstart={start} /></div>
      <div class="tile">
        <MapTile
          detectors={scene.detectors.filter(({ excluded }) => !excluded)}
          places={view?.meters ?? []}
          tally={run.tally}
          {current}
          {onpicture}
          {onboard}
        />
      </div>
    {/if}
  </Half>
</div>

<style>
  .room {
    display: grid;
    grid-template-columns: 252px minmax(0, 1fr) 430px;
    height: 100%;
  }

  header {
    display: flex;
    align-items: center;
    justify-content: space-between;
  }

  .list {
    display: flex;
    flex: 1 1 0;
    flex-direction: column;
    gap: 4px;
    min-height: 120px;
  }

  .tile {
    display: flex;
    flex: 1;
    flex-direction: column;
    min-height: 0;
  }

  .tile > :global(section) {
    flex: 1;
    min-height: 0;
  }

  @media (min-width: 1700px) {
    .room {
      grid-template-columns: 320px minmax(0, 1fr) 640px;
    }
  }

  .none {
    color: var(--muted);
  }

  .bad {
    color: var(--bad);
  }
</style>
