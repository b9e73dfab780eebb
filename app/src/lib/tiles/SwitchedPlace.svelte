<script lang="ts">
  import type { Snippet } from 'svelte';
  import { provideTileSwitch, type TileSwitch } from './tile-switch.ts';

  interface Props extends TileSwitch {
    children: Snippet;
  }
  let { choices, shown, choose, children }: Props = $props();
  provideTileSwitch({
    get choices() {
      return choices;
    },
    get shown() {
      return shown;
    },
    choose: (kind) => choose(kind),
  });
</script>

{@render children()}
