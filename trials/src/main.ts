import { fourElement } from './four-element.ts';
import { makeStartForms } from './start-forms.ts';

const usage = `npm run trials -- WHAT
  four         the rough four-element form polished to the data of the reference lens
  forms [ID]   makes the start forms of the shelf anew from rough ones, into samples/forms`;

const [what, which] = process.argv.slice(2);
if (what === 'forms') await makeStartForms(which);
else if (what === 'four') await fourElement();
else console.log(usage);
