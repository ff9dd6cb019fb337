import { type ChildProcess, spawn } from 'node:child_process';
import { fileURLToPath } from 'node:url';
// @ts-expect-error plain JavaScript shared with the start command
import { freePort } from '../../scripts/common.mjs';

export const root = fileURLToPath(new URL('../../', import.meta.url));
export const sleep = (ms: number) => new Promise((r) => setTimeout(r, ms));
export const port: () => Promise<number> = freePort;

/** A server as a process of its own, which can be killed and comes back. */
export class ServerProcess {
  private child?: ChildProcess;
  constructor(
    readonly port: number,
    private readonly database: string,
    private readonly settings: Record<string, string> = {},
  ) {}

  get url(): string {
    return `http://127.0.0.1:${this.port}`;
  }

  /** Resolves when it serves, rejects when it ends instead. */
  start(): Promise<void> {
    const env = {
      ...process.env,
      UNIROTA_DATABASE: this.database,
      UNIROTA_PORT: String(this.port),
      UNIROTA_WORKERS: '1',
      UNIROTA_LOG: 'silent',
      ...this.settings,
    };
    const child = spawn(process.execPath, ['--import', 'tsx', 'server/src/main.ts'], {
      cwd: root,
      stdio: ['ignore', 'ignore', 'ignore', 'ipc'],
      env,
    });
    this.child = child;
    return new Promise((resolve, reject) => {
      child.once('message', () => resolve());
      child.once('exit', (code, signal) => reject(new Error(`the server ended with ${signal ?? code}`)));
    });
  }

  async kill(): Promise<void> {
    const { child } = this;
    if (!child || child.exitCode !== null || child.signalCode !== null) return;
    const gone = new Promise((r) => child.once('exit', r));
    child.kill('SIGKILL');
    await gone;
  }
}
