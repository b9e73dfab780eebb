<script lang="ts">
  import { useDesk } from '$lib/desk/context.ts';
  import { download } from '$lib/desk/files.ts';
  import { csvText, downloadPng, downloadSvg, downloadXlsx, tableSvg, type Exports } from '$lib/export.ts';
  import { token } from '$lib/theme.svelte.ts';

  interface Props {
    /** What the file is called, without ending. */
    name: string;
    exports: Exports;
  }
  let { name, exports }: Props = $props();
  const desk = useDesk();

  /** A tile that is a table has it drawn as one. */
  function drawn(): string | null {
    if (exports.svg) return exports.svg();
    const rows = exports.csv?.();
    const style = {
      ink: token('--ink'),
      muted: token('--muted'),
      line: token('--line'),
      ground: token('--card'),
    };
    return rows ? tableSvg(rows, style) : null;
  }

  async function write(kind: string) {
    try {
      if (kind === 'csv') {
        const rows = exports.csv?.();
        if (rows) download(`${name}.csv`, csvText(rows), 'text/csv');
        return;
      }
      if (kind === 'xlsx') {
        const rows = exports.csv?.();
        if (rows) await downloadXlsx(name, rows);
        return;
      }
      const svg = drawn();
      if (!svg) return;
      if (kind === 'svg') downloadSvg(name, svg);
      else await downloadPng(name, svg);
    } catch (error) {
      desk.notice = {
        tone: 'refused',
        title: `${name}.${kind} was not written: ${(error as Error).message}`,
      };
    }
  }
</script>

<select
  aria-label="Write {name} to a file"
  title="Write to a file"
  value=""
  onchange={(event) => {
    void write(event.currentTarget.value);
    event.currentTarget.value = '';
  }}
>
  <option value="" hidden>⤓</option>
  <option value="png">PNG</option><option value="svg">SVG</option>
  {#if exports.csv}<option value="csv">CSV</option><option value="xlsx">XLSX</option>{/if}
</select>

<style>
  select {
    width: 38px;
    padding: 0 2px;
    font-size: var(--size-small);
  }
</style>
