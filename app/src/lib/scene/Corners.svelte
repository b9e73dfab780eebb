<script lang="ts">
  import { bodyDefinition, failure, setOf, success, thingTitle, type Part, type Scene } from '@ulvex/core';
  import Cell from '$lib/components/Cell.svelte';
  import { useDesk } from '$lib/desk/context.ts';
  import { plain } from '$lib/format.ts';

  interface Props {
    scene: Scene;
    part: Part;
    points: readonly (readonly [number, number])[];
    axes: readonly [string, string];
  }
  let { scene, part, points, axes }: Props = $props();
  const desk = useDesk();
  const text = $derived(points.map((point) => point.map((value) => plain(value)).join(' ')).join(', '));

  function read(given: string) {
    const next = given.split(',').map((pair) => pair.trim().replaceAll('−', '-').split(/\s+/).map(Number));
    const wrong = next.findIndex(
      (pair) => pair.length !== 2 || pair.some((value) => !Number.isFinite(value)),
    );
    if (wrong >= 0) return failure(`Corner ${wrong + 1} must be two numbers, ${axes.join(' and ')}.`);
    if (next.length < 3) return failure('A profile needs three corners.');
    const objection = bodyDefinition(part.body.kind)?.objection?.({ ...part.body, points: next } as never);
    return objection ? failure(`${objection}.`) : success(next);
  }
</script>

<label>
  corners {axes.join(' ')} in mm, one after another
  <Cell
    label="Corners of {thingTitle(part)}"
    {text}
    align="left"
    testid="body-points"
    {read}
    oncommit={(next) =>
      desk.arrange(setOf(scene, 'parts', part.id, 'body.points', next, `Profile of ${thingTitle(part)}`))}
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
