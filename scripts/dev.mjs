/**
 * npm run dev: server and page built anew with every change, source
 * maps, a private database of its own in .data/dev, the demo.
 */
import { spawn, spawnSync } from 'node:child_process';
import { mkdirSync } from 'node:fs';
import { join } from 'node:path';
import { Plain, checkNode, ensureDebian, ensurePackages, portTaken, root, say, sleep } from './common.mjs';
import { reachableFolder, startDatabase } from './database.mjs';

const port = Number(process.env.UNIROTA_PORT ?? 4630);
const folder = process.env.UNIROTA_DATA ?? join(root, '.data/dev');
const children = [];
let database;
let stopping = false;

async function stop(code = 0) {
  if (stopping) return;
  stopping = true;
  for (const c of children) c.kill('SIGTERM');
  await database?.stop();
  process.exit(code);
}

/** Starts a program that is to run on; its end ends all. Resolves when it has said what is waited for. */
function keepRunning(what, command, args, options, waits) {
  const child = spawn(command, args, { stdio: ['ignore', 'pipe', 'inherit'], ...options });
  children.push(child);
  child.once('exit', (c) => {
    if (stopping) return;
    process.stderr.write(`The ${what} has ended (${c}).\n`);
    void stop(1);
  });
  return new Promise((ready) => {
    child.stdout.on('data', (text) => {
      process.stdout.write(text);
      if (waits.test(String(text))) ready(undefined);
    });
  });
}

async function main() {
  checkNode();
  ensureDebian([[['mariadbd', 'mysqld'], 'mariadb-server']]);
  ensurePackages();
  if (await portTaken(port, '127.0.0.1')) throw new Plain(`Port ${port} is taken. Choose another: UNIROTA_PORT=4700 npm run dev`);
  mkdirSync(folder, { recursive: true, mode: 0o700 });
  for (const signal of ['SIGINT', 'SIGTERM', 'SIGHUP']) process.on(signal, () => void stop());
  for (const first of ['guide', 'assets']) spawnSync(process.execPath, [join(root, 'scripts', `${first}.mjs`)], { stdio: 'inherit' });
  say('Building the page, and again with every change …');
  const env = { ...process.env, NG_CLI_ANALYTICS: 'false' };
  const ng = join(root, 'node_modules/.bin/ng');
  await keepRunning(
    'page',
    ng,
    ['build', '--watch', '--configuration', 'development'],
    { cwd: join(root, 'web'), env },
    /bundle generation complete/,
  );
  database = await startDatabase(reachableFolder(folder));
  const settings = { ...process.env, UNIROTA_DATABASE: database.url, UNIROTA_PORT: String(port), UNIROTA_LOG: process.env.UNIROTA_LOG ?? 'info' };
  void keepRunning(
    'server',
    process.execPath,
    ['--watch', '--enable-source-maps', '--import', 'tsx', 'server/src/main.ts'],
    { cwd: root, env: settings },
    /$^/,
  );
  while (!stopping && !(await portTaken(port, '127.0.0.1'))) await sleep(300);
  if (stopping) return;
  say(`Unirota for developers: http://127.0.0.1:${port}/`);
}

main().catch(async (e) => {
  process.stderr.write(`${e instanceof Plain ? e.message : e.stack}\n`);
  await stop(1);
});
