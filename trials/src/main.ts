import { fourElement } from './four-element.ts';
import { mirror } from './mirror.ts';
import { triplet } from './triplet.ts';
import { makeStartForms } from './start-forms.ts';

const usage = `npm run trials -- WHAT
  triplet [SEED] [MINUTES]   a triplet from plane-parallel plates by search with exchange of glass
  four [SEED] [MINUTES] [FILE]   the rough four-element form polished to the data of the reference lens; with a seed, then searched;
                             the way is written to FILE with its history
  mirror   the tilts of a mirror and the distance of its screen, by goals in the scene
  forms [ID]   makes the start forms of the shelf anew from rough ones, into samples/forms`;

const [what, which, more, file] = process.argv.slice(2);
if (what === 'forms') await makeStartForms(which);
else if (what === 'triplet') triplet(Number(which ?? 1), Number(more ?? 10));
else if (what === 'mirror') mirror();
else if (what === 'four')
  await fourElement(which === undefined ? undefined : Number(which), Number(more ?? 10), file);
else console.log(usage);
