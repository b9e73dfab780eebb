<script lang="ts">
  import type { Snippet } from 'svelte';
  import { provideTileName } from '$lib/tiles/tile-name.ts';

  interface Props {
    name: string | undefined;
    /** Whether the name is being typed. */
    naming: boolean;
    onrename: (name: string) => void;
    children: Snippet;
  }
  let { name, naming = $bindable(), onrename, children }: Props = $props();
  provideTileName({
    get name() {
      return name;
    },
    get naming() {
      return naming;
    },
    set naming(on) {
      naming = on;
    },
    rename: (next) => onrename(next),
  });
</script>

{@render children()}
