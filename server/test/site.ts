import { mkdirSync, rmSync } from 'node:fs';
import type { Server } from 'node:http';
import type { AddressInfo } from 'node:net';
import { type Logger, pino } from 'pino';
import { afterAll, beforeAll } from 'vitest';
// @ts-expect-error plain JavaScript shared with the start command
import { startDatabase } from '../../scripts/database.mjs';
// @ts-expect-error plain JavaScript shared with the start command
import { sweepTemporary, temporaryFolder } from '../../scripts/temporary.mjs';
import { Database, type DatabaseOptions } from '../src/database/database';
import { migrate } from '../src/database/migrate';
import { createApp, type App, type AppConfig } from '../src/app';
import { SOCKET_LIMITS, type SocketLimits, boundedServer } from '../src/http/sockets';
import { Jobs } from '../src/jobs/jobs';

export interface OwnDatabase {
  url: string;
  port: number;
  pid: number;
  folder: string;
  exited: Promise<unknown>;
  stop(): Promise<void>;
}
export const silent = pino({ level: 'silent' });

/** A real MariaDB of the test's own. */
export async function ownDatabase(options: string[] = []): Promise<OwnDatabase> {
  await sweepTemporary();
  const folder = temporaryFolder('test');
  mkdirSync(folder, { recursive: true });
  const database = await startDatabase(folder, { options });
  return {
    ...database,
    folder,
    async stop() {
      await database.stop();
      rmSync(folder, { recursive: true, force: true });
    },
  };
}

export interface Answer<T = any> {
  status: number;
  type: string;
  headers: Headers;
  text: string;
  body: T;
}

/** The real server in this process on a database. */
export class Site {
  cookie = '';
  private constructor(
    readonly url: string,
    readonly app: App,
    readonly database: Database,
    readonly jobs: Jobs,
    readonly server: Server,
  ) {}

  static async open(
    url: string,
    config: Partial<AppConfig> = {},
    more: { sockets?: Partial<SocketLimits>; database?: DatabaseOptions; log?: Logger } = {},
  ): Promise<Site> {
    await migrate(url);
    const database = new Database(url, more.database);
    const jobs = new Jobs(1);
    const app = createApp({
      config: {
        accounts: false,
        address: undefined,
        hosts: new Set(['127.0.0.1', 'localhost']),
        trustProxy: false,
        session: { idleMinutes: 30, hours: 12 },
        requestsPerMinute: 1_000_000,
        deletedDays: 90,
        metricsToken: undefined,
        ...config,
      },
      database,
      jobs,
      log: more.log ?? silent,
    });
    const server = boundedServer(app.express, { ...SOCKET_LIMITS, ...more.sockets }).listen(0, '127.0.0.1');
    server.on('upgrade', app.upgrade);
    await new Promise((r) => server.once('listening', r));
    return new Site(`http://127.0.0.1:${(server.address() as AddressInfo).port}`, app, database, jobs, server);
  }

  async call(
    method: string,
    path: string,
    body?: unknown,
    { headers = {}, raw }: { headers?: Record<string, string>; raw?: string | Uint8Array } = {},
  ): Promise<Answer> {
    const r = await fetch(this.url + path, {
      method,
      headers: { 'content-type': 'application/json', ...(this.cookie ? { cookie: this.cookie } : {}), ...headers },
      body: (raw as BodyInit | undefined) ?? (body === undefined ? undefined : JSON.stringify(body)),
    });
    const text = await r.text();
    const json = /[/+]json/.test(r.headers.get('content-type') ?? '') && text ? JSON.parse(text) : undefined;
    return { status: r.status, type: r.headers.get('content-type') ?? '', headers: r.headers, text, body: json };
  }

  async close(): Promise<void> {
    this.app.end();
    this.server.closeAllConnections();
    this.server.close();
    await Promise.allSettled([this.database.end(), this.jobs.end()]);
  }
}

/** A site on a database of its own for all tests of a file, handed over when it is open. */
export function withSite(
  take: (site: Site, own: OwnDatabase) => void,
  config: Partial<AppConfig> = {},
  more: Parameters<typeof Site.open>[2] = {},
): void {
  let own: OwnDatabase | undefined, site: Site | undefined;
  beforeAll(async () => {
    own = await ownDatabase();
    site = await Site.open(own.url, config, more);
    take(site, own);
  });
  afterAll(async () => {
    await site?.close();
    await own?.stop();
  });
}
