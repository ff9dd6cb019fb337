import { readFileSync, readdirSync } from 'node:fs';
import { readShape } from '../core/formats/shape-file';
import { holdContent } from '../core/shapes/contents';
/**
 * Property tests run with one printed seed, so that a run that fails
 * can be run again: UNIROTA_SEED, or the one that always holds.
 */
import fc from 'fast-check';

fc.configureGlobal({ seed: Number(process.env['UNIROTA_SEED'] ?? 20_261_128) });

// Tests that work the demos out have the contents of their shapes, as the page has.
const shapes = new URL('../demo/shapes/', import.meta.url);
for (const hash of readdirSync(shapes)) holdContent(hash, () => readShape(readFileSync(new URL(hash, shapes))).mesh);
