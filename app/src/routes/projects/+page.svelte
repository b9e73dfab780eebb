<script lang="ts">
  import Button from '$lib/components/Button.svelte';
  import FilePicker from '$lib/components/FilePicker.svelte';
  import ProjectGlimpse from '$lib/files/ProjectGlimpse.svelte';
  import { goto } from '$app/navigation';
  import { backupText, EMPTY_HISTORY, sceneOnly, surfaceTitle } from '@ulvex/core';
  import { useDesk } from '$lib/desk/context.ts';
  import { storeTrouble } from '$lib/desk/keeper.svelte.ts';
  import { exportProject, importProject } from '$lib/desk/files.ts';
  import { download } from '$lib/download.ts';
  import { insertLens, insertLensOfFile, insertPlace } from '$lib/desk/insert-lens.ts';
  import { blankProject, openKept, placeOf, openSample, SAMPLES } from '$lib/desk/opening.ts';
  import { ui } from '$lib/desk/ui.svelte.ts';
  import { freshProjectId, projectStore, storeUse, type KeptProject } from '$lib/keeping/store.ts';

  const desk = useDesk();
  let projects = $state.raw<KeptProject[]>([]);
  let trouble = $state<string | null>(null);
  let use = $state.raw<Awaited<ReturnType<typeof storeUse>>>(null);
  const PROJECTS = '.json,application/json';
  let picker: FilePicker;
  let backupPicker: FilePicker;
  let insertPicker: FilePicker;

  async function refresh() {
    try {
      await desk.flush();
      projects = await projectStore.list();
      use = await storeUse();
      trouble = null;
    } catch (error) {
      trouble = storeTrouble(error);
    }
  }

  $effect(() => {
    if (desk.keeping.state !== 'waiting' || ui.stuck !== null) void refresh();
  });

  /** Takes a project away; the message that says so can bring it back. */
  async function remove(project: KeptProject) {
    try {
      const removed = await projectStore.remove(project);
      desk.notice = {
        tone: 'done',
        title: `“${project.name}” was deleted.`,
        action: { label: 'Undo', run: () => void projectStore.putBack(removed).then(refresh) },
      };
    } catch (error) {
      trouble = storeTrouble(error);
    }
    await refresh();
  }

  async function backup() {
    try {
      await desk.flush();
      const { projects: all, unreadable } = await projectStore.backup();
      download(
        `ulvex-store-${new Date().toISOString().slice(0, 10)}.json`,
        backupText(all, unreadable),
        'application/json',
      );
      if (unreadable.length > 0)
        desk.notice = {
          tone: 'refused',
          title: 'Part of the store cannot be read. The backup contains it as text.',
          lines: unreadable.map(({ name, reason }) => `${name}: ${reason}`),
        };
    } catch (error) {
      trouble = storeTrouble(error);
    }
  }

  async function bringBack(file: File) {
    try {
      const read = await desk.pool.run('backup', await file.text()).result;
      if (!read.ok) {
        desk.notice = { tone: 'refused', title: `${file.name}: ${read.reason}` };
        return;
      }
      const { projects: found, broken } = read.value;
      const count = await projectStore.restore(found, freshProjectId);
      desk.notice = {
        tone: broken.length > 0 ? 'refused' : 'done',
        title:
          `${count} of ${found.length + broken.length} projects of the backup came in; the others ` +
          `${broken.length > 0 ? 'are here already or cannot be read' : 'are here already'}.`,
        lines: broken,
      };
    } catch (error) {
      trouble = storeTrouble(error);
    }
    await refresh();
  }

  /** Projects of the list that are drawn. */
  const GLIMPSES = 30;

  const sizeText = (bytes: number) =>
    bytes < 1e6
      ? `${Math.ceil(bytes / 1e3)} kB`
      : bytes < 1e9
        ? `${(bytes / 1e6).toFixed(1)} MB`
        : `${(bytes / 1e9).toFixed(1)} GB`;

  async function enter(open: () => unknown) {
    await desk.flush();
    if ((await open()) !== false) await goto(placeOf(desk));
  }

  /** Where the lens of another project would come to stand. */
  const placeWords = $derived.by(() => {
    const [lens, place] = [desk.lens, insertPlace(desk)];
    const index = lens?.surfaces.findIndex(({ id }) => id === place) ?? -1;
    return lens && index >= 0 ? `after ${surfaceTitle(lens, index)} of “${desk.base.name}”` : '';
  });

  async function insertKept(id: string): Promise<boolean> {
    const kept = await projectStore.recall(id);
    if (kept) return insertLens(desk, kept.tracked.project);
    desk.notice = { tone: 'refused', title: 'This project cannot be read from the browser’s store.' };
    return false;
  }

  function day(time: number): string {
    return new Date(time).toISOString().slice(0, 16).replace('T', ' ');
  }
</script>

<div class="room">
  <section aria-label="Your projects">
    <h2>Your projects</h2>
    <p class="muted">Kept in this browser, on this machine. Nothing is sent anywhere.</p>
    {#if trouble}<p class="bad">✕ The list cannot be read: {trouble}.</p>{/if}
    <ul data-testid="project-list">
      {#each projects as project, index (project.id)}
        <li>
          <button
            class="entry"
            aria-current={project.id === desk.projectId}
            onclick={() => enter(() => openKept(desk, project.id))}
          >
            <strong>{project.name}</strong>
            <span class="muted">kept {day(project.savedAt)} UTC{project.id === desk.projectId ? ' · open' : ''}</span>
            {#if index < GLIMPSES}<ProjectGlimpse id={project.id} savedAt={project.savedAt} />{/if}
          </button>
          {#if ui.stuck === project.id}
            <Button
              small
              title="Open it with links and conditions off"
              aria-label="Open {project.name} without its relations"
              data-testid="open-without-relations"
              onclick={() => enter(() => openKept(desk, project.id, true, true))}>⊘</Button
            >
          {/if}
          <Button
            small
            disabled={project.id === desk.projectId || insertPlace(desk) === null}
            title="Insert its lens {placeWords}"
            aria-label="Insert the lens of {project.name} {placeWords}"
            data-testid="insert-kept"
            onclick={() => enter(() => insertKept(project.id))}>⤷</Button
          >
          <Button
            small
            disabled={project.id === desk.projectId}
            title={project.id === desk.projectId
              ? 'Open another project before deleting this one'
              : 'Delete; it can be undone'}
            aria-label="Delete {project.name}"
            onclick={() => remove(project)}>✕</Button
          >
        </li>
      {/each}
    </ul>
    {#if use}
      <p class="muted" data-testid="store-use">
        <meter min="0" max={use.quota} value={use.used} aria-label="Use of the browser’s store"></meter>
        {sizeText(use.used)} of {sizeText(use.quota)} that the browser gives
      </p>
    {/if}
  </section>
  <section aria-label="Begin">
    <h2>Begin</h2>
    <button
      class="entry"
      data-testid="new-project"
      onclick={() => enter(() => desk.open({ project: blankProject('New lens'), history: EMPTY_HISTORY }))}
    >
      <strong>An empty lens</strong><span class="muted">A stop and an image plane; add elements in Layout.</span>
    </button>
    <button
      class="entry"
      data-testid="new-scene"
      onclick={() => enter(() => desk.open({ project: sceneOnly('New scene'), history: EMPTY_HISTORY }))}
    >
      <strong>An empty scene</strong><span class="muted"
        >For lamps, light guides, stray light: add sources, bodies and detectors in Layout.</span
      >
    </button>
    <button class="entry" data-testid="start-forms" onclick={() => goto('/shelf/forms')}>
      <strong>A start form…</strong><span class="muted"
        >Lenses, and lamps: an LED with its collimator, reflectors, light guides; in any size.</span
      >
    </button>
    <button
      class="entry"
      data-testid="duplicate-project"
      onclick={() =>
        enter(() =>
          desk.open({
            project: { ...desk.base, name: `${desk.base.name.slice(0, 490)} copy` },
            history: EMPTY_HISTORY,
          }),
        )}
    >
      <strong>A copy of “{desk.project.name}”</strong><span class="muted"
        >A second version of the open project, to try another way.</span
      >
    </button>
    {#each SAMPLES as { id, title, about } (id)}
      <button class="entry" data-testid="sample-{id}" onclick={() => enter(() => openSample(desk, id))}>
        <strong>Sample: {title}</strong><span class="muted">{about}</span>
      </button>
    {/each}
    <h2>Files</h2>
    <button class="entry" data-testid="import" onclick={() => picker.open()}>
      <strong>Open a file…</strong><span class="muted"
        >A project written by Ulvex, NAME.ulvex.json; dropping it anywhere works too.</span
      >
    </button>
    <FilePicker
      bind:this={picker}
      label="Choose a project file"
      accept={PROJECTS}
      testid="import-input"
      onfile={(file) => void enter(() => importProject(desk, file))}
    />
    <button
      class="entry"
      data-testid="insert-file"
      disabled={insertPlace(desk) === null}
      onclick={() => insertPicker.open()}
    >
      <strong>Insert the lens of a file…</strong><span class="muted"
        >As a group {placeWords}, with its states and links.</span
      >
    </button>
    <FilePicker
      bind:this={insertPicker}
      label="Choose a project file whose lens to insert"
      accept={PROJECTS}
      testid="insert-input"
      onfile={(file) => void enter(() => insertLensOfFile(desk, file))}
    />
    <button class="entry" data-testid="export" onclick={() => exportProject(desk)}>
      <strong>Write “{desk.project.name}” to a file</strong><span class="muted"
        >Everything that belongs to it, for keeping and sharing.</span
      >
    </button>
    <button class="entry" data-testid="backup" onclick={backup}>
      <strong>Back up all projects</strong><span class="muted">The whole store with every history, in one file.</span>
    </button>
    <button class="entry" data-testid="restore" onclick={() => backupPicker.open()}>
      <strong>Restore a backup…</strong><span class="muted"
        >Nothing is overwritten; projects that differ are added.</span
      >
    </button>
    <FilePicker
      bind:this={backupPicker}
      label="Choose a backup"
      accept={PROJECTS}
      testid="restore-input"
      onfile={(file) => void bringBack(file)}
    />
    <p class="muted">
      <a href="/third-party.txt" target="_blank" data-testid="third-party">Licences of third-party software</a>
    </p>
  </section>
</div>

<style>
  .room {
    display: grid;
    grid-template-columns: minmax(0, 1fr) minmax(0, 1fr);
    gap: 28px;
    max-width: 1080px;
    height: 100%;
    padding: 16px 24px;
    overflow: auto;
  }

  section {
    display: flex;
    flex-direction: column;
    gap: 8px;
  }

  h2 {
    align-self: start;
    padding-bottom: 2px;
    border-bottom: 2px solid var(--accent);
  }

  h2:not(:first-child) {
    margin-top: 10px;
  }

  ul {
    display: grid;
    gap: 6px;
    margin: 0;
    padding: 0;
    list-style: none;
  }

  li {
    display: flex;
    gap: 4px;
  }

  .entry {
    display: flex;
    flex-direction: column;
    width: 100%;
    padding: 7px 12px;
    border: 1px solid var(--line);
    border-radius: var(--radius);
    background: var(--card);
    text-align: left;
  }

  .entry:hover {
    border-color: var(--accent);
  }

  .entry[aria-current='true'] {
    border-left: 3px solid var(--accent);
    background: var(--accent-ground);
  }

  .muted {
    color: var(--muted);
    font-size: var(--size-small);
  }

  .bad {
    color: var(--bad);
  }
</style>
