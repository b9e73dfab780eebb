import { makeStartForms } from './start-forms.ts';

const usage = `npm run trials -- WHAT
  forms [ID]   makes the start forms of the shelf anew from rough ones, into samples/forms`;

const [what, which] = process.argv.slice(2);
if (what === 'forms') await makeStartForms(which);
else console.log(usage);
