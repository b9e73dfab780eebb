import { RuleTester } from 'eslint';
// @ts-expect-error -- the rule is plain JavaScript for ESLint's own configuration
import rule from './one-way-imports.js';

RuleTester.describe = describe;
RuleTester.it = it;

const at = (file: string, code: string) => ({ filename: `/x/${file}`, code });

new RuleTester().run('one-way-imports', rule, {
  valid: [
    at('core/src/imaging/point/spot.ts', "import { traceBlock } from '../../sequence/trace.ts';"),
    at('core/src/shapes/conic.ts', "import { RADIUS } from './shape.ts';"),
    at('core/src/index.ts', "export * from './work/jobs.ts';"),
    at('core/src/project/schema.ts', "import * as yup from 'yup';"),
    at('app/src/lib/desk/desk.ts', "import { undo } from '@ulvex/core';"),
    at('app/src/lib/tiles/Tile.ts', "import { lensOf } from '$lib/desk/lens-choice.ts';"),
    at('app/src/lib/desk/a.ts', "import { plain } from '../format.ts';"),
    at('app/src/routes/layout/a.ts', "import { desk } from '$lib/desk/context.ts';"),
  ],
  invalid: [
    {
      ...at('core/src/shapes/conic.ts', "import { x } from '../project/model.ts';"),
      errors: [{ messageId: 'upward' }],
    },
    { ...at('core/src/math/a.ts', "export * from '../light/hue.ts';"), errors: [{ messageId: 'upward' }] },
    { ...at('core/src/odds/a.ts', "import { x } from '../math/a.ts';"), errors: [{ messageId: 'unranked' }] },
    {
      ...at('core/src/work/a.ts', "import('../../../app/src/lib/a.ts');"),
      errors: [{ messageId: 'leaving' }],
    },
    {
      ...at('app/src/a.ts', "import { x } from '../../core/src/math/a.ts';"),
      errors: [{ messageId: 'inside' }],
    },
    {
      ...at('app/src/lib/compute/a.ts', "import { x } from '../desk/tile-state.ts';"),
      errors: [{ messageId: 'upward' }],
    },
    {
      ...at('app/src/lib/desk/a.ts', "import('$lib/tiles/paint.ts');"),
      errors: [{ messageId: 'upward' }],
    },
    { ...at('app/src/lib/format.ts', "import { x } from './desk/a.ts';"), errors: [{ messageId: 'upward' }] },
    { ...at('app/src/lib/odds/a.ts', "import { x } from '../format.ts';"), errors: [{ messageId: 'unranked' }] },
  ],
});
