/**
 * Puts beside the page what it fetches only when it first needs it: the geometry kernel, the typefaces of reports.
 * Run before the page is built.
 */
import { copyFileSync, mkdirSync } from 'node:fs';
import { createRequire } from 'node:module';
import { basename, join } from 'node:path';
import { fileURLToPath } from 'node:url';

const from = (workspace) => createRequire(new URL(`../${workspace}/package.json`, import.meta.url)).resolve;
const [solids, core] = [from('solids'), from('core')];
const FONTS = ['plex-sans', 'plex-sans-condensed'].flatMap((family) => {
  const name = `IBM${family.replace(/(^|-)(\w)/g, (_, __, c) => c.toUpperCase())}`;
  return ['400Regular', '600SemiBold'].map((weight) => core(`@expo-google-fonts/ibm-${family}/${weight}/${name}_${weight}.ttf`));
});

for (const [folder, files] of Object.entries({ kernel: [solids('replicad-opencascadejs/wasm')], fonts: FONTS })) {
  const into = fileURLToPath(new URL(`../web/public/${folder}`, import.meta.url));
  mkdirSync(into, { recursive: true });
  for (const file of files) copyFileSync(file, join(into, basename(file)));
}
