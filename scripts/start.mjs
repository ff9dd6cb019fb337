/** npm start: installs what is missing, starts a private database, migrates, loads the demo, serves; starts again what dies. */
import { spawn } from 'node:child_process';
import { existsSync, mkdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { Plain, checkNode, dataFolder, ensureBuild, ensureDebian, ensurePackages, installDebian, portTaken, root, say, sleep } from './common.mjs';
import { reachableFolder, startDatabase } from './database.mjs';
import { takeLock } from './lock.mjs';
import { sweepTemporary } from './temporary.mjs';

const port = Number(process.env.UNIROTA_PORT ?? 4620);
const host = process.env.UNIROTA_HOST ?? '127.0.0.1';
const external = process.env.UNIROTA_DATABASE;
const shown = ['0.0.0.0', '::'].includes(host) ? 'localhost' : host;
const address = process.env.UNIROTA_ADDRESS ?? `http://${shown.includes(':') ? `[${shown}]` : shown}:${port}/`;
const mark = join(dataFolder, 'running.json');

/** Waits longer after each death in a row, s; one that has lasted a minute is no longer in a row. */
const PAUSES = [0.5, 1, 2, 5, 10, 20, 30];
const LASTED = 60_000;
/** Ends of the server that another try would not change: a wrong setting, a taken port, a newer database. */
const FINAL = new Set([2, 3, 4]);

let stopping = false;
let code = 0;
let database;
let server;
let release;
let announced = false;

const trouble = (text) => process.stderr.write(`${text}\n`);

async function alreadyRunning() {
  // The other one may still be starting.
  for (let i = 0; i < 600; i++) {
    if (existsSync(mark)) {
      say(`Unirota is running already: ${JSON.parse(readFileSync(mark, 'utf8')).address}`);
      return;
    }
    await sleep(200);
  }
  throw new Plain(`Another program holds ${dataFolder}: choose another folder with UNIROTA_DATA.`);
}

/** Keeps something running: starts it, waits for its end, starts it again. `begin` gives how to wait for the end. */
async function keep(what, begin) {
  for (let deaths = 0; !stopping;) {
    const since = Date.now();
    const how = await begin();
    if (stopping || how === undefined) return;
    deaths = Date.now() - since > LASTED ? 0 : deaths + 1;
    const pause = PAUSES[Math.min(deaths, PAUSES.length - 1)];
    trouble(`The ${what} has stopped (${how}); it is started again in ${pause} s.`);
    await sleep(pause * 1000);
  }
}

async function runDatabase() {
  try {
    database = await startDatabase(reachableFolder(dataFolder), { port: database?.port });
  } catch (e) {
    if (!database) throw e;
    return e instanceof Plain ? e.message : String(e);
  }
  writeFileSync(join(dataFolder, 'database.json'), JSON.stringify({ url: database.url }), { mode: 0o600 });
  databaseUp?.();
  // The server knows the address it was started with.
  if (server && serverUrl !== database.url) server.kill('SIGTERM');
  return database.exited;
}

/**
 * What the server asks for when somebody first wants it: the mesher and the solver
 * for strength models. The sentence says why not; none, that they are there.
 */
async function installTools(child) {
  say('Installing gmsh and calculix-ccx, which were asked for …');
  const sentence = await installDebian(['gmsh', 'calculix-ccx']);
  if (sentence) trouble(`They could not be installed: ${sentence}`);
  if (child.connected) child.send({ tools: sentence ?? '' });
}

let databaseUp;
let serverUrl;
async function runServer() {
  serverUrl = external ?? database.url;
  // Ends with this process, however that ends.
  const child = spawn('setpriv', ['--pdeathsig', 'TERM', process.execPath, '--import', 'tsx', join(root, 'server/src/main.ts')], {
    cwd: root,
    stdio: ['ignore', 'inherit', 'inherit', 'ipc'],
    detached: true,
    env: { ...process.env, UNIROTA_DATABASE: serverUrl, UNIROTA_PORT: String(port), UNIROTA_HOST: host },
  });
  server = child;
  child.on('message', (message) => {
    if (stopping) return;
    if (message === 'install tools') return void installTools(child);
    writeFileSync(mark, JSON.stringify({ address, pid: process.pid }));
    say(announced ? 'Unirota goes on.' : `Unirota is ready: ${address}`);
    if (!announced) say('Stop it with Ctrl+C.');
    announced = true;
  });
  const how = await new Promise((r) => child.once('exit', (c, signal) => r(signal ?? c)));
  if (!FINAL.has(how)) return how === 5 ? 'the database did not answer' : how;
  code = how;
  void stop();
  return undefined;
}

/** First the server, then the database: nothing that is being saved is cut off. */
async function stop() {
  if (stopping) return;
  stopping = true;
  rmSync(mark, { force: true });
  if (server && server.exitCode === null && server.signalCode === null) {
    const gone = new Promise((r) => server.once('exit', r));
    server.kill('SIGTERM');
    await Promise.race([gone, sleep(8000)]);
    if (server.exitCode === null) server.kill('SIGKILL');
  }
  await database?.stop();
  release?.();
  process.exit(code);
}

async function main() {
  checkNode();
  if (!Number.isInteger(port) || port < 1 || port > 65535)
    throw new Plain(`UNIROTA_PORT must be a port number from 1 to 65535; it is “${process.env.UNIROTA_PORT}”.`);
  mkdirSync(dataFolder, { recursive: true, mode: 0o700 });
  release = await takeLock(dataFolder);
  if (!release) return alreadyRunning();
  rmSync(mark, { force: true });
  if (await portTaken(port, shown))
    throw new Plain(`Port ${port} is taken by another program. Stop that one, or choose another port: UNIROTA_PORT=4700 npm start`);
  if (!external) ensureDebian([[['mariadbd', 'mysqld'], 'mariadb-server']]);
  ensurePackages();
  ensureBuild();
  await sweepTemporary();
  for (const signal of ['SIGINT', 'SIGTERM', 'SIGHUP']) process.on(signal, () => void stop());
  if (!external) {
    const first = new Promise((r) => (databaseUp = r));
    const kept = keep('database', runDatabase);
    await Promise.race([first, kept]);
  }
  await keep('server', runServer);
}

main().catch(async (e) => {
  trouble(e instanceof Plain ? e.message : e.stack);
  code = 1;
  await stop();
});
