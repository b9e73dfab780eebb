<script lang="ts">
  import { onMount, type Snippet } from 'svelte';
  import '../app.css';
  import Header from '$lib/shell/Header.svelte';
  import NoticeBar from '$lib/shell/NoticeBar.svelte';
  import Rail from '$lib/shell/Rail.svelte';
  import RequirementStrip from '$lib/requirements/RequirementStrip.svelte';
  import FilePicker from '$lib/components/FilePicker.svelte';
  import Button from '$lib/components/Button.svelte';
  import Trouble from '$lib/components/Trouble.svelte';
  import { provideDesk } from '$lib/desk/context.ts';
  import { Desk } from '$lib/desk/desk.svelte.ts';
  import { importProject } from '$lib/desk/files.ts';
  import { shortcutCommands } from '$lib/ask/commands.ts';
  import { explainable } from '$lib/explainable.ts';
  import { goto } from '$app/navigation';
  import { page } from '$app/state';
  import { openDraft, putDraft } from '$lib/desk/drafts.ts';
  import { cameUp, leftWhileOpening, openFirst, placeOf } from '$lib/desk/opening.ts';
  import { KEYMAP, pressed } from '$lib/keymap.ts';
  import { LEFT_STORE, noteLeft } from '$lib/desk/left.ts';
  import { ui } from '$lib/desk/ui.svelte.ts';
  import { openStates, toggleDial, turnFree } from '$lib/parameters/states-of.ts';
  import { theme } from '$lib/theme.svelte.ts';

  let { children }: { children: Snippet } = $props();

  const desk = new Desk();
  provideDesk(desk);
  /** From when on panels are loaded before they are asked for, ms. */
  const NEXT = 2000;
  let ready = $state(false);
  theme.apply();
  let picker: FilePicker;

  onMount(() => {
    ui.pickFile = () => picker.open();
    openFirst(desk).then(
      async (begun) => {
        if (!begun) await goto('/projects');
        else if (page.url.pathname === '/') await goto(placeOf(desk), { replaceState: true });
        ready = true;
      },
      (error: Error) => (desk.notice = { tone: 'refused', title: `Ulvex could not open: ${error.message}` }),
    );
    // What is often wanted next comes while nothing else is to be done.
    const later = setTimeout(() => {
      void import('$lib/parameters/StatePanel.svelte');
      void import('$lib/operations/OperationPanel.svelte');
      void import('$lib/surface/SurfacePart.svelte');
      void import('$lib/shell/HistoryPanel.svelte');
      void import('$lib/states/StateBand.svelte');
      void import('$lib/shell/KeySheet.svelte');
      void import('$lib/components/Explain.svelte');
      void import('$lib/parameters/Dials.svelte');
    }, NEXT);
    const settled = $effect.root(() => {
      $effect(() => {
        if (ready && !desk.settling && desk.live.settled === desk.revision) cameUp();
      });
    });
    // The store may not get to write any more; the journal writes at once.
    const leave = () => {
      desk.keeper.leaving(openDraft());
      void desk.flush();
    };
    const gone = () => {
      desk.finishPending();
      leave();
      leftWhileOpening();
    };
    const hidden = () => document.visibilityState === 'hidden' && leave();
    const ask = (event: BeforeUnloadEvent) => {
      desk.finishPending();
      if (!desk.keeper.leaving(openDraft())) event.preventDefault();
    };
    window.addEventListener('pagehide', gone);
    window.addEventListener('beforeunload', ask);
    document.addEventListener('visibilitychange', hidden);
    return () => {
      settled();
      clearTimeout(later);
      window.removeEventListener('pagehide', gone);
      window.removeEventListener('beforeunload', ask);
      document.removeEventListener('visibilitychange', hidden);
    };
  });

  /** What was being typed when the window was left is typed again. */
  $effect(() => {
    const { draft } = ui;
    if (!ready || !draft) return;
    ui.draft = null;
    void putDraft(draft).then((done) => {
      if (!done)
        desk.notice = {
          tone: 'refused',
          title: `“${draft.text}” was being typed into ${draft.label} when the window was left. It was not entered.`,
        };
    });
  });

  /** Where the project is looked at, it goes on when it is opened again. */
  $effect(() => {
    if (ready) noteLeft(LEFT_STORE, desk.projectId, page.url.pathname);
  });

  const shortcuts = shortcutCommands(desk);

  function onkeydown(event: KeyboardEvent) {
    if (pressed(event, KEYMAP.explain)) {
      event.preventDefault();
      explain();
      return;
    }
    if (pressed(event, KEYMAP.numberState) || pressed(event, KEYMAP.freeNumber)) {
      event.preventDefault();
      if (pressed(event, KEYMAP.numberState)) openStates(document.activeElement);
      else void turnFree(desk, document.activeElement);
      return;
    }
    if (pressed(event, KEYMAP.dial)) {
      event.preventDefault();
      if (!toggleDial(desk, document.activeElement))
        desk.notice = { tone: 'done', title: 'Go to a number to turn it.' };
      return;
    }
    const found = shortcuts.find(({ shortcut }) => pressed(event, shortcut));
    if (!found) return;
    const { shortcut } = found;
    const typing = event.target instanceof HTMLTextAreaElement;
    if (typing && (shortcut === KEYMAP.undo || shortcut === KEYMAP.redo)) return; // the text's own undo
    const inField = event.target instanceof Element && event.target.matches('input, textarea, select');
    if (shortcut === KEYMAP.keys && inField) return; // a question mark like any other
    event.preventDefault();
    found.run();
  }

  /** Explains what the focus is on, or else what the mouse is over. */
  function explain() {
    const hovered = [...document.querySelectorAll('[data-explain]:hover')].at(-1) ?? null;
    const element = explainable(document.activeElement) ?? explainable(hovered);
    const key = element?.dataset.explain;
    if (ui.explained?.key === key || !element || key === undefined) {
      ui.explained = null;
      if (!element)
        desk.notice = {
          tone: 'done',
          title: 'Go to a cell, a column, a requirement or a choice, then press Shift F1.',
        };
      return;
    }
    ui.explained = { key, at: element.getBoundingClientRect() };
  }

  async function take(file: File | undefined) {
    if (file && (await importProject(desk, file)) && page.url.pathname === '/layout') await goto(placeOf(desk));
  }

  function isFileDrag(event: DragEvent): boolean {
    return event.dataTransfer?.types.includes('Files') ?? false;
  }
</script>

<svelte:window
  {onkeydown}
  oncontextmenu={(event) => {
    // With Shift the browser's own menu comes.
    if (!event.shiftKey && toggleDial(desk, event.target as Element)) event.preventDefault();
  }}
  ondragover={(event) => isFileDrag(event) && event.preventDefault()}
  ondrop={(event) => {
    if (!isFileDrag(event)) return;
    event.preventDefault();
    void take(event.dataTransfer?.files[0]);
  }}
/>
<svelte:head><title>{desk.project.name ? `${desk.project.name} · Ulvex` : 'Ulvex'}</title></svelte:head>

<FilePicker
  bind:this={picker}
  label="Open a project file"
  accept=".json,application/json"
  testid="file-input"
  onfile={(file) => void take(file)}
/>

<div
  class="window"
  data-testid="window"
  data-revision={desk.revision}
  data-settled={desk.settling || desk.awaits ? -1 : desk.live.settled}
  data-kept={desk.keeping.state}
  data-project={desk.projectId}
>
  {#if ready}
    <Header />
    <RequirementStrip />
    {#if ui.statesOpen}{#await import('$lib/states/StateBand.svelte') then { default: StateBand }}<StateBand
        />{/await}{/if}
    {#if desk.made}
      <p class="made" role="status" data-testid="made">
        <strong>{desk.made.title}, as made</strong> is shown in every room. Any change of the design leaves it.
        <Button small onclick={() => desk.lookAtMade(null)}>Back to the design</Button>
      </p>
    {/if}
    <div class="floor">
      <Rail />
      <main>
        <svelte:boundary>
          {@render children()}
          {#snippet failed(error, reset)}<Trouble what="room" {error} {reset} />{/snippet}
        </svelte:boundary>
      </main>
      {#if ui.historyOpen}
        {#await import('$lib/shell/HistoryPanel.svelte') then { default: HistoryPanel }}<HistoryPanel
            onclose={() => (ui.historyOpen = false)}
          />{/await}
      {/if}
    </div>
  {:else}
    <p class="opening">Opening…</p>
  {/if}
  {#if ui.dials.length > 0}
    {#await import('$lib/parameters/Dials.svelte') then { default: Dials }}<Dials />{/await}
  {/if}
  <NoticeBar />
  {#if ui.keysOpen}
    {#await import('$lib/shell/KeySheet.svelte') then { default: KeySheet }}<KeySheet />{/await}
  {/if}
  {#if ui.explained}
    {#await import('$lib/components/Explain.svelte') then { default: Explain }}<Explain />{/await}
  {/if}
  {#if ui.stating}
    {#key ui.stating}
      {@const { addresses, at } = ui.stating}
      {#await import('$lib/parameters/StatePanel.svelte') then { default: StatePanel }}<StatePanel
          {addresses}
          {at}
        />{/await}
    {/key}
  {/if}
</div>

<style>
  .made {
    display: flex;
    gap: 12px;
    align-items: baseline;
    margin: 0;
    padding: 3px 14px;
    border-bottom: 1px solid var(--line);
    background: var(--accent-ground);
  }

  @media print {
    .window,
    .floor,
    main {
      display: block !important;
      height: auto !important;
      overflow: visible !important;
      contain: none !important;
    }

    .window > :global(:not(.floor)),
    .floor > :global(:not(main)) {
      display: none !important;
    }
  }

  .window {
    position: relative;
    display: flex;
    flex-direction: column;
    height: 100vh;
    overflow: hidden;
  }

  .floor {
    display: flex;
    flex: 1;
    min-height: 0;
  }

  main {
    flex: 1;
    min-width: 0;
    overflow: hidden;
  }

  .opening {
    flex: 1;
    padding: 40px;
    color: var(--muted);
  }
</style>
