<script lang="ts">
  import PageTabs from '$lib/components/PageTabs.svelte';

  /** The two halves of the one model that the Layout shows. */
  const HALVES = [
    { path: '/layout', title: 'Lens', testid: 'half-lens' },
    { path: '/layout/scene', title: 'Scene', testid: 'half-scene' },
  ] as const;
</script>

<PageTabs label="Lens or scene" tabs={HALVES} />
