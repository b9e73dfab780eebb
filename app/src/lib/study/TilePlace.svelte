<script lang="ts">
  import type { Snippet } from 'svelte';
  import { provideTileState } from '$lib/desk/tile-state.ts';
  import { provideTileName } from '$lib/tiles/tile-name.ts';

  interface Props {
    name: string | undefined;
    /** Whether the name is being typed. */
    naming: boolean;
    onrename: (name: string) => void;
    /** The state that is shown here, see `TileState`, and what is chosen for the tile. */
    state: string | null;
    chosen: string | null;
    onstate: (state: string | null) => void;
    children: Snippet;
  }
  let { name, naming = $bindable(), onrename, state, chosen, onstate, children }: Props = $props();
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
  provideTileState({
    get state() {
      return state;
    },
    get chosen() {
      return chosen;
    },
    choose: (next) => onstate(next),
  });
</script>

{@render children()}
