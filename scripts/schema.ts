/** Writes the design format's JSON Schema and its description: npm run schema. */
import { writeFileSync } from 'node:fs';
import { designFormatText, designJsonSchema } from '../core/document/index';

writeFileSync(new URL('../docs/design.schema.json', import.meta.url), `${JSON.stringify(designJsonSchema(), null, 2)}\n`);
writeFileSync(new URL('../docs/design-format.md', import.meta.url), designFormatText());
