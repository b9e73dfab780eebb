<script lang="ts">
  import FanTile from './FanTile.svelte';
  import type { FanSettings } from './settings.ts';

  interface Props {
    settings: unknown;
    onsettings: (settings: FanSettings) => void;
  }
  let props: Props = $props();
</script>

<FanTile {...props} quantity="opd_fans" />
