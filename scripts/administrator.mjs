/** npm run administrator: prints a link with which one person becomes an administrator of this server. */
import { spawnSync } from 'node:child_process';
import { join } from 'node:path';
import { Plain, checkNode, ensurePackages, root } from './common.mjs';
import { ownDatabase } from './own-database.mjs';

try {
  checkNode();
  ensurePackages();
  const database = await ownDatabase();
  try {
    const run = spawnSync(process.execPath, ['--import', 'tsx', join(root, 'server/src/administrator.ts')], {
      cwd: root,
      stdio: 'inherit',
      env: { ...process.env, UNIROTA_DATABASE: database.url },
    });
    process.exitCode = run.status ?? 1;
  } finally {
    await database.close();
  }
} catch (e) {
  process.stderr.write(e instanceof Plain ? `${e.message}\n` : `${e.stack}\n`);
  process.exitCode = 1;
}
