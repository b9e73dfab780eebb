import { fourElement } from './four-element.ts';
import { made } from './made.ts';
import { mirror } from './mirror.ts';
import { triplet } from './triplet.ts';
import { fuzz } from './fuzz/fuzz.ts';
import { makeStartForms } from './start-forms.ts';

const usage = `npm run trials -- WHAT
  triplet [SEED] [MINUTES]   a triplet from plane-parallel plates by search with exchange of glass
  four [SEED] [MINUTES] [FILE]   the rough four-element form polished to the data of the reference lens; with a seed, then searched;
                             the way is written to FILE with its history
  made [SEED] [MINUTES]   the tide camera searched by the spots that 90 % of lenses keep as they are made
  mirror   the tilts of a mirror and the distance of its screen, by goals in the scene
  fuzz [SEED] [CASES]   files, tables, meshes, formulas, typing and requests, mutated: so many cases altogether;
                        ends with 1 if one of them does what it must not
  forms [ID]   makes the start forms of the shelf anew from rough ones, into samples/forms`;

const [what, which, more, file] = process.argv.slice(2);
if (what === 'forms') await makeStartForms(which);
else if (what === 'triplet') triplet(Number(which ?? 1), Number(more ?? 10));
else if (what === 'made') made(Number(which ?? 2), Number(more ?? 5));
else if (what === 'mirror') mirror();
else if (what === 'four') await fourElement(which === undefined ? undefined : Number(which), Number(more ?? 10), file);
else if (what === 'fuzz') {
  const kinds = 9;
  let [cases, wrong] = [0, 0];
  for await (const tally of fuzz(Number(which ?? 1), Math.ceil(Number(more ?? 200_000) / kinds))) {
    console.log(
      `${tally.kind}: ${tally.cases} cases, ${tally.accepted} read, slowest ${tally.slowest.toFixed(0)} ms, ${tally.wrong.length} wrong`,
    );
    for (const one of tally.wrong.slice(0, 20)) console.log(`  ${one}`);
    cases += tally.cases;
    wrong += tally.wrong.length;
  }
  console.log(`${cases} cases, ${wrong} wrong`);
  process.exitCode = wrong > 0 ? 1 : 0;
} else console.log(usage);
