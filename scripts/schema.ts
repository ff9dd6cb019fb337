/** npm run schema: writes docs/design.schema.json from the lists of fields. */
import { writeFileSync } from 'node:fs';
import { designJsonSchema } from '../core/design/index';

writeFileSync(new URL('../docs/design.schema.json', import.meta.url), `${JSON.stringify(designJsonSchema(), null, 2)}\n`);
