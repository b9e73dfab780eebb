<script lang="ts">
  import { useDesk } from '$lib/desk/context.ts';
  import { download } from '$lib/download.ts';
  import { csvText, downloadPng, downloadSvg, downloadXlsx, tableSvg, type Exports } from '$lib/export.ts';
  import { framedSvg, type PictureWords } from '$lib/report-frame.ts';
  import { token } from '$lib/theme.svelte.ts';
  import { useTilePicture } from './tile-picture.ts';

  interface Props {
    /** What the picture is called outside of a tile. */
    title?: string;
    /** What the file is called, without ending. */
    name: string;
    exports: Exports;
  }
  let { name, exports, title }: Props = $props();
  const desk = useDesk();
  const tile = useTilePicture();

  /** What stands around the picture: what it is, of what, how it was made, and when. */
  function words(): PictureWords {
    const { base, lens, state } = desk;
    const seen = tile ? tile.state : state && base.states?.find(({ id }) => id === state)?.name;
    const of = [base.name, ...(lens && base.lenses.length > 1 ? [lens.name] : []), ...(seen ? [seen] : [])];
    return {
      title: title ?? tile?.title ?? name,
      subject: of.join(' · '),
      about: tile?.about ?? '',
      legend: exports.legend?.() ?? [],
      date: new Date().toISOString().slice(0, 10),
    };
  }

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
      const plain = drawn();
      if (!plain) return;
      const svg = framedSvg(plain, words(), {
        ink: token('--ink'),
        muted: token('--muted'),
        ground: token('--card'),
      });
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
