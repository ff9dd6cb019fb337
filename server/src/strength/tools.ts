import { accessSync, constants } from 'node:fs';
import { delimiter, join } from 'node:path';
import { spawn } from 'node:child_process';

/** The two programs that strength models ask for: a mesher and a solver of finite elements, from Debian's packages. */
export const TOOLS = ['gmsh', 'ccx'] as const;

const onPath = (command: string): boolean =>
  (process.env['PATH'] ?? '').split(delimiter).some((folder) => {
    try {
      accessSync(join(folder, command), constants.X_OK);
      return true;
    } catch {
      return false;
    }
  });
export const toolsThere = (): boolean => TOOLS.every(onPath);

const NOT_HERE = 'gmsh and CalculiX are not installed on the server';
const BY_HAND = 'have them installed there: apt-get install gmsh calculix-ccx';
/** How long an installation may take, ms. */
const INSTALLING = 600_000;

let asked: Promise<string | undefined> | undefined;

/** Has the start command install the tools, once at a time; gives a sentence where they cannot be had. */
export function ensureTools(): Promise<string | undefined> {
  if (toolsThere()) return Promise.resolve(undefined);
  if (!process.send || !process.connected) return Promise.resolve(`${NOT_HERE}; ${BY_HAND}`);
  asked ??= new Promise<string | undefined>((resolve) => {
    const told = (message: unknown): void => {
      const about = message as { tools?: string } | null;
      if (typeof about !== 'object' || typeof about?.tools !== 'string') return;
      end(about.tools || undefined);
    };
    const end = (sentence: string | undefined): void => {
      clearTimeout(late);
      process.off('message', told);
      asked = undefined;
      resolve(toolsThere() ? undefined : `${NOT_HERE}, and could not be (${sentence ?? 'they are not found, though installed'}); ${BY_HAND}`);
    };
    const late = setTimeout(() => end('it took too long'), INSTALLING);
    process.on('message', told);
    process.send!('install tools');
  });
  return asked;
}

/** KiB of memory that one run may take, and the longest it may take, s. */
const MEMORY = 4 * 1024 * 1024;
const LONGEST = 300;

export class ToolTrouble extends Error {}

/**
 * Runs one of the tools in a folder, quietly behind the server's own work; ended with the signal, and with the server whatever
 * ends that (setpriv, util-linux). Rejects with a sentence.
 */
export function runTool(tool: (typeof TOOLS)[number], args: readonly string[], folder: string, signal: AbortSignal): Promise<void> {
  return new Promise((resolve, reject) => {
    const child = spawn('setpriv', ['--pdeathsig', 'KILL', 'nice', '-n', '10', 'sh', '-c', `ulimit -v ${MEMORY}; exec "$0" "$@"`, tool, ...args], {
      cwd: folder,
      stdio: ['ignore', 'pipe', 'pipe'],
      env: { PATH: process.env['PATH'], HOME: folder, OMP_NUM_THREADS: '1', LC_ALL: 'C' },
      timeout: LONGEST * 1000,
      killSignal: 'SIGKILL',
      signal,
    });
    let said = '';
    const hear = (chunk: Buffer): void => void (said = (said + chunk.toString()).slice(-4000));
    child.stdout.on('data', hear);
    child.stderr.on('data', hear);
    child.once('error', (e) => reject(signal.aborted ? e : new ToolTrouble(`${tool} could not be started`)));
    child.once('close', (code, killed) => {
      if (signal.aborted) return;
      const trouble = said
        .split('\n')
        .find((l) => /error/i.test(l))
        ?.trim()
        .slice(0, 200);
      if (code === 0 && !(tool === 'gmsh' && trouble)) resolve();
      else reject(new ToolTrouble(killed ? `${tool} took longer than ${LONGEST / 60} minutes` : `${tool} gave up${trouble ? `: ${trouble}` : ''}`));
    });
  });
}
