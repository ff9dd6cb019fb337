import { fileURLToPath } from 'node:url';
import { pino } from 'pino';
import { WrongSetting, readConfig, type Config } from './config';
import { Database } from './database/database';
import { NewerSchema, migrate } from './database/migrate';
import { loadDemo } from './designs/demo';
import { createApp } from './app';
import { databaseAway } from './refusal';
import { boundedServer, SOCKET_LIMITS } from './http/sockets';
import { Jobs } from './jobs/jobs';

/**
 * The server: migrates, loads the demo, serves until told to stop; settings in docs/operations.md. Says "ready" to a parent
 * process. Ends with 2 for a wrong setting, 3 when the port is taken, 4 when the database is newer than the program, 5 when the
 * database is away.
 */
const refuse = (code: number, sentence: string): never => {
  process.stderr.write(`${sentence}\n`);
  process.exit(code);
};
function settings(): Config {
  try {
    return readConfig(process.env);
  } catch (e) {
    if (e instanceof WrongSetting) return refuse(2, e.message);
    throw e;
  }
}
const config = settings();
const log = pino({ level: config.logLevel, redact: ['err.sql', 'err.parameters', 'err.sqlMessage'] });
const database = new Database(config.database, { connections: config.connections });
const jobs = new Jobs(config.workers);
const app = createApp({ config, database, jobs, log, page: fileURLToPath(new URL('../../web/dist/browser/', import.meta.url)) });
try {
  await migrate(config.database, () => loadDemo(app.designs, jobs, log).then(() => undefined));
  if (!config.accounts && (await app.accounts.people.any())) {
    refuse(2, 'This database has accounts, so its designs are not shown to whoever comes: start with UNIROTA_ACCOUNTS=on.');
  }
} catch (e) {
  if (e instanceof NewerSchema) refuse(4, e.message);
  if (databaseAway(e)) refuse(5, 'The database does not answer.');
  throw e;
}

// A proxy that is trusted speaks for everybody: it bounds its clients itself.
const server = boundedServer(app.express, SOCKET_LIMITS, () => config.trustProxy !== false);
server.on('upgrade', app.upgrade);
server.once('error', (error: NodeJS.ErrnoException) => {
  const taken = error.code === 'EADDRINUSE';
  refuse(taken ? 3 : 1, taken ? `Port ${config.port} is taken by another program: stop that, or set UNIROTA_PORT to another.` : error.message);
});
server.listen(config.port, config.host, () => void process.send?.('ready'));
const sweep = setInterval(() => void app.sweep().catch((e: unknown) => log.warn({ err: e }, 'not swept')), 600_000);

// What nobody caught is a fault of the program that ends the request it came from, not the server that others use.
process.on('uncaughtException', (e) => log.error({ err: e }, 'uncaught'));
process.on('unhandledRejection', (e) => log.error({ err: e }, 'unhandled'));

let stopping = false;
function stop(): void {
  if (stopping) return;
  stopping = true;
  clearInterval(sweep);
  app.end();
  server.close(() => void Promise.allSettled([database.end(), jobs.end()]).finally(() => process.exit(0)));
  server.closeIdleConnections();
  setTimeout(() => server.closeAllConnections(), 3000).unref();
  setTimeout(() => process.exit(0), 6000).unref();
}
process.on('SIGTERM', stop);
process.on('SIGINT', stop);
process.on('disconnect', stop);
