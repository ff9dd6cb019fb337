/** What start and test share. Plain Node without packages: it runs before anything is installed. */
import { spawn, spawnSync } from 'node:child_process';
import { createHash } from 'node:crypto';
import { existsSync, readFileSync, readdirSync, statSync, writeFileSync } from 'node:fs';
import { createServer, connect } from 'node:net';
import { dirname, join } from 'node:path';
import { fileURLToPath } from 'node:url';

export const root = dirname(dirname(fileURLToPath(import.meta.url)));
export const dataFolder = process.env.UNIROTA_DATA ?? join(root, '.data');
export const isRoot = process.getuid?.() === 0;

export class Plain extends Error {}

export const say = (text) => process.stdout.write(`${text}\n`);

export function checkNode() {
  const [major, minor] = process.versions.node.split('.').map(Number);
  if (major < 20 || (major === 20 && minor < 19)) throw new Plain(`Node.js 20.19 or newer is needed; this is ${process.versions.node}.`);
}

export const has = (command) => spawnSync('sh', ['-c', `command -v ${command}`], { stdio: 'ignore' }).status === 0;

/** Installs Debian packages that are missing: commands → package names. */
export function ensureDebian(needs) {
  const missing = needs.filter(([commands]) => !commands.some(has)).map(([, name]) => name);
  if (!missing.length) return;
  if (!isRoot || !has('apt-get')) throw new Plain(`Missing: ${missing.join(', ')}. Install them first: apt-get install ${missing.join(' ')}`);
  say(`Installing ${missing.join(', ')} …`);
  const env = { ...process.env, DEBIAN_FRONTEND: 'noninteractive' };
  const run = (args) => spawnSync('apt-get', args, { env, stdio: ['ignore', 'ignore', 'pipe'], encoding: 'utf8' });
  run(['update', '-qq']);
  const r = run(['install', '-y', '-qq', '--no-install-recommends', ...missing]);
  if (r.status !== 0)
    throw new Plain(`apt-get could not install ${missing.join(', ')}:\n${(r.stderr ?? '').trim().split('\n').slice(-5).join('\n')}`);
}

/** Installs Debian packages while everything else goes on; gives a sentence where that cannot be. */
export async function installDebian(names) {
  if (!isRoot || !has('apt-get')) return `apt-get install ${names.join(' ')} has to be run by root`;
  const run = (args) =>
    new Promise((resolve) => {
      const child = spawn('apt-get', args, { env: { ...process.env, DEBIAN_FRONTEND: 'noninteractive' }, stdio: ['ignore', 'ignore', 'pipe'] });
      let said = '';
      child.stderr.on('data', (c) => (said = (said + c).slice(-2000)));
      child.once('error', (e) => resolve(e.message));
      child.once('close', (code) => resolve(code === 0 ? undefined : said.trim().split('\n').at(-1) || `apt-get ended with ${code}`));
    });
  await run(['update', '-qq']);
  return run(['install', '-y', '-qq', '--no-install-recommends', ...names]);
}

/** npm packages as the lock file says, once per change of it. */
export function ensurePackages() {
  const lock = createHash('sha256')
    .update(readFileSync(join(root, 'package-lock.json')))
    .digest('hex');
  const mark = join(root, 'node_modules', '.unirota-lock');
  if (existsSync(mark) && readFileSync(mark, 'utf8') === lock) return;
  say('Installing packages …');
  const r = spawnSync('npm', ['ci', '--no-audit', '--no-fund', '--loglevel=error'], { cwd: root, stdio: ['ignore', 'ignore', 'inherit'] });
  if (r.status !== 0) throw new Plain('npm could not install the packages; see above.');
  writeFileSync(mark, lock);
}

/** Folders that the build fills. */
const MADE = ['guide', 'kernel', 'fonts'].map((name) => join(root, 'web/public', name));

function treeState(folders) {
  const h = createHash('sha256');
  const walk = (dir) => {
    for (const e of readdirSync(dir, { withFileTypes: true }).sort((a, b) => (a.name < b.name ? -1 : 1))) {
      const p = join(dir, e.name);
      // What is made while building is no source.
      if (['node_modules', 'dist', '.angular'].includes(e.name) || MADE.includes(p)) continue;
      if (e.isDirectory()) walk(p);
      else {
        const s = statSync(p);
        h.update(`${p}:${s.size}:${Math.round(s.mtimeMs)}\n`);
      }
    }
  };
  for (const f of folders) walk(join(root, f));
  h.update(readFileSync(join(root, 'package-lock.json')));
  return h.digest('hex');
}

/** Builds the page when a source of it has changed. */
export function ensureBuild() {
  const mark = join(root, 'web', 'dist', '.built-from');
  const state = treeState(['core', 'solids', 'contract', 'web', 'docs']);
  if (existsSync(mark) && readFileSync(mark, 'utf8') === state) return;
  say('Building the page …');
  const r = spawnSync('npm', ['run', '--silent', 'build'], {
    cwd: root,
    encoding: 'utf8',
    stdio: ['ignore', 'pipe', 'pipe'],
    env: { ...process.env, NG_CLI_ANALYTICS: 'false' },
  });
  if (r.status !== 0) throw new Plain(`The page could not be built:\n${r.stdout}\n${r.stderr}`);
  writeFileSync(mark, state);
}

export const freePort = () =>
  new Promise((resolve, reject) => {
    const s = createServer();
    s.once('error', reject);
    s.listen(0, '127.0.0.1', () => {
      const { port } = /** @type {import('node:net').AddressInfo} */ (s.address());
      s.close(() => resolve(port));
    });
  });

export const portTaken = (port, host = '127.0.0.1') =>
  new Promise((resolve) => {
    const s = connect({ port, host });
    s.once('connect', () => (s.destroy(), resolve(true)));
    s.once('error', () => resolve(false));
  });

export const sleep = (ms) => new Promise((r) => setTimeout(r, ms));

/** Runs a command: what a person can mend is said in a sentence, a bug with where it is. */
export async function command(main) {
  try {
    await main();
  } catch (e) {
    process.stderr.write(e instanceof Plain ? `${e.message}\n` : `${e.stack}\n`);
    process.exitCode = 1;
  }
}
