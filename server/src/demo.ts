import { createHash } from 'node:crypto';
import { readFileSync, readdirSync } from 'node:fs';
import { fileURLToPath } from 'node:url';
import type { Logger } from 'pino';
import { readDesign } from '@unirota/core/design';
import type { Pool, RowDataPacket } from 'mysql2/promise';
import type { Designs } from './designs';

const FOLDER = fileURLToPath(new URL('../../demo/', import.meta.url));

/** The same save id for the same demo file, so that a demo is loaded once, and not again after somebody deletes it. */
const saveIdOf = (file: string): string => {
  const h = createHash('sha256').update(`unirota demo ${file}`).digest('hex');
  return `${h.slice(0, 8)}-${h.slice(8, 12)}-${h.slice(12, 16)}-${h.slice(16, 20)}-${h.slice(20, 32)}`;
};

/** Loads the demo designs that this database has not had yet. */
export async function loadDemo(designs: Designs, pool: Pool, log: Logger): Promise<number> {
  let loaded = 0;
  for (const file of readdirSync(FOLDER)
    .filter((f) => f.endsWith('.json'))
    .sort()
    .reverse()) {
    const save = saveIdOf(file);
    const [had] = await pool.execute<RowDataPacket[]>('SELECT 1 FROM revisions WHERE save_id = ?', [save]);
    if (had.length) continue;
    const read = readDesign(JSON.parse(readFileSync(`${FOLDER}${file}`, 'utf8')));
    if (read.problems) {
      log.error({ file, problems: read.problems }, 'demo design is not valid');
      continue;
    }
    await designs.create(read.design, save);
    loaded++;
  }
  return loaded;
}
