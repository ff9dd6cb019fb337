/** npm run administrator: prints a link with which one person becomes an administrator of this server. */
import { spawnSync } from 'node:child_process';
import { join } from 'node:path';
import { checkNode, command, ensurePackages, root } from './common.mjs';
import { ownDatabase } from './own-database.mjs';

await command(async () => {
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
});
