<script lang="ts">
  import PageTabs from '$lib/components/PageTabs.svelte';

  const TABS = [
    { path: '/shelf', title: 'Materials', testid: 'shelf-materials' },
    { path: '/shelf/finishes', title: 'Finishes', testid: 'shelf-finishes' },
    { path: '/shelf/forms', title: 'Start forms', testid: 'shelf-start-forms' },
  ] as const;
</script>

<PageTabs label="What lies on the shelf" tabs={TABS} />
