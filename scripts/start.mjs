/** npm start: installs what is missing, starts a private database, migrates, loads the demo, serves. */
import { spawn } from 'node:child_process';
import { existsSync, mkdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { Plain, checkNode, dataFolder, ensureBuild, ensureDebian, ensurePackages, portTaken, root, say, startDatabase } from './common.mjs';

const port = Number(process.env.UNIROTA_PORT ?? 4620);
const host = process.env.UNIROTA_HOST ?? '127.0.0.1';
const external = process.env.UNIROTA_DATABASE;
const address = `http://${host === '0.0.0.0' ? 'localhost' : host}:${port}/`;
const mark = join(dataFolder, 'running.json');

async function answers(url) {
  try {
    const r = await fetch(`${url}api/health`, { signal: AbortSignal.timeout(2000) });
    return (await r.json()).server === 'ok';
  } catch {
    return false;
  }
}

async function main() {
  checkNode();
  if (!Number.isInteger(port) || port < 1 || port > 65535)
    throw new Plain(`UNIROTA_PORT must be a port number from 1 to 65535; it is “${process.env.UNIROTA_PORT}”.`);
  if (existsSync(mark)) {
    const running = JSON.parse(readFileSync(mark, 'utf8'));
    if (await answers(running.address)) {
      say(`Unirota is running already: ${running.address}`);
      return;
    }
  }
  if (await portTaken(port))
    throw new Plain(`Port ${port} is taken by another program. Stop that one, or choose another port: UNIROTA_PORT=4700 npm start`);
  if (!external) ensureDebian([[['mariadbd', 'mysqld'], 'mariadb-server']]);
  ensurePackages();
  ensureBuild();
  mkdirSync(dataFolder, { recursive: true, mode: 0o700 });
  const database = external ? undefined : await startDatabase(dataFolder);

  const server = spawn(process.execPath, ['--import', 'tsx', join(root, 'server/src/main.ts')], {
    cwd: root,
    stdio: ['ignore', 'inherit', 'inherit', 'ipc'],
    detached: true,
    env: { ...process.env, UNIROTA_DATABASE: external ?? database.url, UNIROTA_PORT: String(port), UNIROTA_HOST: host },
  });
  let stopping = false;
  let code = 0;
  // First the server, then the database: nothing that is being saved is cut off.
  const stop = async () => {
    if (stopping) return;
    stopping = true;
    rmSync(mark, { force: true });
    if (server.exitCode === null && server.signalCode === null) {
      const gone = new Promise((r) => server.once('exit', r));
      server.kill('SIGTERM');
      await Promise.race([gone, new Promise((r) => setTimeout(r, 8000))]);
      if (server.exitCode === null) server.kill('SIGKILL');
    }
    await database?.stop();
    process.exit(code);
  };
  process.on('SIGINT', () => void stop());
  process.on('SIGTERM', () => void stop());
  process.on('SIGHUP', () => void stop());
  server.once('message', () => {
    writeFileSync(mark, JSON.stringify({ address, pid: process.pid }));
    say(`Unirota is ready: ${address}`);
    say('Stop it with Ctrl+C.');
  });
  server.once('exit', (c) => {
    if (stopping) return;
    code = c || 1;
    process.stderr.write(
      c === 3 ? `Port ${port} is taken by another program. Choose another: UNIROTA_PORT=4700 npm start\n` : `The server has stopped (code ${c}).\n`,
    );
    void stop();
  });
  void database?.exited.then(() => {
    if (stopping) return;
    process.stderr.write('The database has stopped; Unirota stops too. Start it again with npm start.\n');
    code = 1;
    void stop();
  });
}

main().catch((e) => {
  process.stderr.write(e instanceof Plain ? `${e.message}\n` : `${e.stack}\n`);
  process.exit(1);
});
