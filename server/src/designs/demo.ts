import { createHash } from 'node:crypto';
import { readFileSync, readdirSync } from 'node:fs';
import { fileURLToPath } from 'node:url';
import type { Logger } from 'pino';
import type { Jobs } from '../jobs/jobs';
import type { Designs } from './designs';
import { accepted } from './rows';

const FOLDER = fileURLToPath(new URL('../../../demo/', import.meta.url));

/** The same save id for the same demo file, so that a demo is loaded once, and not again after somebody deletes it. */
const saveIdOf = (file: string): string => {
  const h = createHash('sha256').update(`unirota demo ${file}`).digest('hex');
  return `${h.slice(0, 8)}-${h.slice(8, 12)}-${h.slice(12, 16)}-${h.slice(16, 20)}-${h.slice(20, 32)}`;
};

/** Loads the demo designs that this database has not had yet; gives how many. Harmless when two do it at once. */
export async function loadDemo(designs: Designs, jobs: Jobs, log: Logger): Promise<number> {
  let loaded = 0;
  for (const file of readdirSync(FOLDER)
    .filter((f) => f.endsWith('.json'))
    .sort()
    .reverse()) {
    try {
      const ready = accepted(await jobs.run('shipped', { text: readFileSync(`${FOLDER}${file}`, 'utf8'), save: saveIdOf(file) }));
      const contents = new Map((ready.shapes ?? []).map((hash) => [hash, readFileSync(`${FOLDER}shapes/${hash}`)]));
      if (await designs.addDemo(ready, contents)) loaded++;
    } catch (e) {
      if ((e as { code?: string }).code === 'ER_DUP_ENTRY') continue;
      throw new Error(`the demo design ${file} could not be loaded`, { cause: e });
    }
  }
  if (loaded) log.info({ loaded }, 'demo designs loaded');
  return loaded;
}
