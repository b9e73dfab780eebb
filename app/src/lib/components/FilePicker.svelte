<script lang="ts">
  interface Props {
    /** What file is wanted. */
    label: string;
    /** Endings and media types, as an input has them. */
    accept: string;
    testid: string;
    onfile: (file: File) => void;
  }
  let { label, accept, testid, onfile }: Props = $props();
  let input: HTMLInputElement;

  /** Opens the file dialog; to be called by what a user presses. */
  export function open(): void {
    input.click();
  }

  function chosen() {
    const file = input.files?.[0];
    input.value = ''; // so that the same file can be chosen again
    if (file) onfile(file);
  }
</script>

<input
  bind:this={input}
  class="visually-hidden"
  type="file"
  tabindex="-1"
  {accept}
  aria-label={label}
  data-testid={testid}
  onchange={chosen}
/>
