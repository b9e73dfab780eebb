<script lang="ts">
  import type { FirstOrderTable, Project, Section } from '@ulvex/core';
  import { useDesk } from '$lib/desk/context.ts';
  import { significant } from '$lib/format.ts';
  import MiniSection from '$lib/drawing/MiniSection.svelte';
  import { projectStore } from '$lib/keeping/store.ts';
  import { lensOf } from '$lib/desk/lens-choice.ts';

  interface Props {
    /** Id in the browser's store. */
    id: string;
    /** A project that was kept anew is looked at anew. */
    savedAt: number;
  }
  let { id, savedAt }: Props = $props();
  const desk = useDesk();
  let section = $state.raw<Section | null>(null);
  let words = $state('');

  function wordsOf(project: Project, order: FirstOrderTable | null): string {
    const [lens] = project.lenses;
    const elements = lens?.surfaces.filter(({ after }) => after?.name !== undefined).length ?? 0;
    const parts = project.scenes?.[0]?.parts.length ?? 0;
    const primary = order?.columns.find(({ wavelength }) => wavelength === lens?.primary)?.data;
    const data = primary?.ok ? primary.value : null;
    const count = (n: number, one: string) => (n > 0 ? `${n} ${one}${n === 1 ? '' : 's'}` : null);
    return [
      data && Number.isFinite(data.focalLength) ? `f ${significant(data.focalLength, 4)} mm` : null,
      data?.fNumber ? `F/${significant(Math.abs(data.fNumber), 3)}` : null,
      count(elements, 'element'),
      count(parts, 'part'),
    ]
      .filter(Boolean)
      .join(' · ');
  }

  $effect(() => {
    void savedAt;
    let gone = false;
    void (async () => {
      const project = (await projectStore.recall(id).catch(() => null))?.tracked.project;
      const lens = project ? lensOf(project)?.id : undefined;
      if (!project || lens === undefined || gone) return;
      let order: FirstOrderTable | null = null;
      const queries = [
        { key: 'section', query: { kind: 'section', lens, raysPerField: 1 } as const },
        { key: 'first_order', query: { kind: 'first_order', lens } as const },
      ];
      const seen = desk.pool.run('evaluate', { project, queries }, (part) => {
        for (const { key, answer } of part) {
          if (!answer.ok) continue;
          if (key === 'section') section = answer.value as Section;
          else order = answer.value as FirstOrderTable;
        }
      });
      await seen.result.catch(() => null);
      if (!gone) words = wordsOf(project, order);
    })();
    return () => (gone = true);
  });
</script>

<span class="glimpse" data-testid="glimpse-{id}">
  <span class="sketch" aria-hidden="true"
    >{#if section}<MiniSection {section} />{/if}</span
  >
  <span class="words">{words}</span>
</span>

<style>
  .glimpse {
    display: flex;
    gap: 10px;
    align-items: center;
    min-height: 36px;
  }

  .sketch {
    flex: 0 0 96px;
    height: 36px;
  }

  .words {
    color: var(--muted);
    font-size: var(--size-small);
  }
</style>
