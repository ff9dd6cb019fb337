/** Puts the geometry kernel's code where the page fetches it from when it first needs it. Run before the page is built. */
import { copyFileSync, mkdirSync } from 'node:fs';
import { createRequire } from 'node:module';
import { basename, join } from 'node:path';
import { fileURLToPath } from 'node:url';

const code = createRequire(new URL('../solids/package.json', import.meta.url)).resolve('replicad-opencascadejs/wasm');
const into = fileURLToPath(new URL('../web/public/kernel', import.meta.url));
mkdirSync(into, { recursive: true });
copyFileSync(code, join(into, basename(code)));
