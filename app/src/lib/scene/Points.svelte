<script lang="ts">
  import { bodyDefinition, failure, setOf, success, thingTitle, type Part, type Scene } from '@ulvex/core';
  import Cell from '$lib/components/Cell.svelte';
  import { useDesk } from '$lib/desk/context.ts';
  import { plain } from '$lib/format.ts';

  interface Props {
    scene: Scene;
    part: Part;
    /** The list in its body that is edited. */
    field: string;
    axes: readonly string[];
  }
  let { scene, part, field, axes }: Props = $props();
  const desk = useDesk();
  const points = $derived((part.body as unknown as Record<string, readonly (readonly number[])[]>)[field]);
  /** Corners of a polygon, or places of a path. */
  const closed = $derived(axes.length === 2);
  const word = $derived(closed ? 'Corner' : 'Place');
  const text = $derived(points.map((point) => point.map((value) => plain(value)).join(' ')).join(', '));

  function read(given: string) {
    const next = given.split(',').map((pair) => pair.trim().replaceAll('−', '-').split(/\s+/).map(Number));
    const wrong = next.findIndex(
      (pair) => pair.length !== axes.length || pair.some((value) => !Number.isFinite(value)),
    );
    if (wrong >= 0)
      return failure(`${word} ${wrong + 1} must be ${axes.length === 2 ? 'two' : 'three'} numbers: ${axes.join(' ')}.`);
    if (closed && next.length < 3) return failure('A profile needs three corners.');
    const objection = bodyDefinition(part.body.kind)?.objection?.({ ...part.body, [field]: next } as never);
    return objection ? failure(`${objection}.`) : success(next);
  }
</script>

<label>
  {closed ? 'corners' : 'places of the path'}
  {axes.join(' ')} in mm, one after another
  <Cell
    label="{word}s of {thingTitle(part)}"
    {text}
    align="left"
    testid="body-{field}"
    {read}
    oncommit={(next) =>
      desk.arrange(
        setOf(scene, 'parts', part.id, `body.${field}`, next, `${closed ? 'Profile' : 'Path'} of ${thingTitle(part)}`),
      )}
  />
</label>

<style>
  label {
    display: block;
    border-bottom: 1px solid var(--line);
    color: var(--muted);
    font-size: var(--size-small);
  }
</style>
