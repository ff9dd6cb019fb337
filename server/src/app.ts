import { existsSync } from 'node:fs';
import { join } from 'node:path';
import compression from 'compression';
import express, { Router, type Express, type RequestHandler } from 'express';
import helmet from 'helmet';
import type { Logger } from 'pino';
import type { HealthAnswer } from '@unirota/contract';
import { Attempts } from './accounts/attempts';
import { Audit } from './accounts/audit';
import { People } from './accounts/people';
import type { Person } from './accounts/person';
import { recognise, sessionToken, signedInOnly } from './accounts/recognise';
import { Upgrades } from './accounts/upgrades';
import { accountRoutes, openRoutes, type Accounts } from './http/account-routes';
import { Sessions } from './accounts/sessions';
import { SignOn } from './accounts/sign-on';
import { signOnCallback, signOnRoutes } from './http/sign-on-routes';
import type { Config } from './config';
import { isLoopback } from './loopback';
import type { Database } from './database/database';
import { Designs } from './designs/designs';
import { SHAPE_LIMITS } from './designs/shapes';
import { designRoutes, sharingRoutes } from './http/design-routes';
import { Sharing } from './designs/sharing';
import { Watch } from './designs/watch';
import { remarkRoutes } from './http/remark-routes';
import { type Jobs, asking } from './jobs/jobs';
import { StandIns } from './stand-ins/socket';
import { strengthRoutes } from './http/strength-routes';
import { Strength } from './strength/strength';
import { SharedCounts } from './http/counts';
import { fairShare } from './http/fair-share';
import { openMetrics, requestLog, type Metrics } from './http/log';
import { knownHosts, onlyOurPage } from './http/only-our-page';
import { Refusal, diskFull } from './refusal';
import { notFound, problems } from './http/problem';

export type AppConfig = Pick<
  Config,
  'accounts' | 'address' | 'hosts' | 'trustProxy' | 'session' | 'requestsPerMinute' | 'metricsToken' | 'deletedDays'
> &
  Partial<Pick<Config, 'shapes' | 'issuers' | 'quota'>>;
export interface AppOptions {
  config: AppConfig;
  database: Database;
  jobs: Jobs;
  log: Logger;
  /** Folder of the built page; without it only the interface is served. */
  page?: string;
}
export interface App {
  express: Express;
  designs: Designs;
  accounts: Accounts;
  /** What is to be done from time to time. */
  sweep(): Promise<void>;
  /** WebSockets: of pages that have a design open, and of stand-ins. */
  upgrade: Upgrades['upgrade'];
  /** Lets go of what runs by itself. */
  end(): void;
}

/** Scripts of workers: the geometry kernel makes the functions by which it is called from texts of its own. */
const WORKER = /^\/worker-[A-Z0-9]+\.js$/;

const policy = (secure: boolean, scripts: readonly string[] = []): RequestHandler =>
  helmet({
    contentSecurityPolicy: {
      useDefaults: false,
      directives: {
        defaultSrc: ["'self'"],
        scriptSrc: ["'self'", ...scripts],
        styleSrc: ["'self'", "'unsafe-inline'"],
        imgSrc: ["'self'", 'data:', 'blob:'],
        fontSrc: ["'self'"],
        connectSrc: ["'self'"],
        workerSrc: ["'self'", 'blob:'],
        objectSrc: ["'none'"],
        baseUri: ["'self'"],
        frameAncestors: ["'none'"],
        formAction: ["'self'"],
      },
    },
    // Served over plain HTTP on one machine: asking for HTTPS there would lock people out.
    strictTransportSecurity: secure,
    crossOriginResourcePolicy: { policy: 'same-origin' },
    referrerPolicy: { policy: 'no-referrer' },
  });

/** The policy of a page, and that of a worker's script, which the worker goes by. */
function policies(secure: boolean): RequestHandler {
  const [page, worker] = [policy(secure), policy(secure, ["'unsafe-eval'"])];
  return (req, res, next) => (WORKER.test(req.path) ? worker : page)(req, res, next);
}

/** Bounds the requests of a person, or of an address where nobody is signed in; counted over all servers. */
function limit(counts: SharedCounts, most: number): RequestHandler {
  return (req, res, next) => {
    const person = res.locals['person'] as Person | undefined;
    const { count, ends } = counts.add(person && person.name ? `requests ${person.id}` : `requests from ${req.ip}`);
    if (count > most) throw new Refusal(429, 'Too many requests: wait a moment', { retryAfter: Math.max(1, Math.ceil((ends - Date.now()) / 1000)) });
    next();
  };
}

/** So often readiness writes something, ms. */
const WRITES_EVERY = 10_000;

/** Liveness, readiness and measures: for whoever runs the server. */
function stateRoutes(database: Database, metrics: Metrics, metricsToken: string | undefined): Router {
  const r = Router();
  let wrote = 0;
  /** Whether the database's disk takes something: a row that stands for nothing. */
  const writes = (): Promise<'ok' | 'full' | 'away'> =>
    database
      .change("INSERT INTO counts (name, window_start, count) VALUES ('ready', '2000-01-01', 1) ON DUPLICATE KEY UPDATE count = 1 - count")
      .then(
        () => ((wrote = Date.now()), 'ok' as const),
        (e: unknown) => (diskFull(e) ? ('full' as const) : ('away' as const)),
      );
  const ready: RequestHandler = async (_req, res) => {
    const there = await database.answers().then(
      () => (Date.now() - wrote < WRITES_EVERY ? ('ok' as const) : writes()),
      () => 'away' as const,
    );
    const body: HealthAnswer = { server: 'ok', database: there };
    res.status(there === 'ok' ? 200 : 503).json(body);
  };
  r.get('/live', (_req, res) => void res.json({ server: 'ok' }));
  r.get('/ready', ready);
  r.get('/health', ready);
  r.get('/metrics', async (req, res) => {
    const asked = req.headers.authorization === `Bearer ${metricsToken}` && metricsToken !== undefined;
    // Without a token only the machine itself is told, and not what a proxy passes on.
    const local =
      isLoopback((req.socket.remoteAddress ?? '').replace(/^::ffff:/, '')) && !req.headers['x-forwarded-for'] && metricsToken === undefined;
    if (!asked && !local) throw new Refusal(403, 'Measures are for whoever runs the server');
    res.type(metrics.registry.contentType).send(await metrics.registry.metrics());
  });
  return r;
}

/** The application without a port: used by the server and by tests. */
export function createApp({ config, database, jobs, log, page }: AppOptions): App {
  const audit = new Audit(database);
  const sessions = new Sessions(database, config.session);
  const people = new People(database, sessions, audit);
  const signOn = new SignOn(database, people, sessions, config.issuers ?? []);
  const accounts: Accounts = { config, people, sessions, attempts: new Attempts(database), audit, signOn };
  const signOns = { config, signOn, sessions, audit, log };
  const designs = new Designs({
    database,
    jobs,
    log,
    ...(config.shapes && { shapeLimits: config.shapes }),
    ...(config.quota && { quota: config.quota }),
    ...(config.accounts ? { audit } : {}),
  });
  const watch = new Watch({ database, log, ...(config.accounts && { session: (req) => sessionToken(req, config), sessions }) });
  const counts = new SharedCounts(database, log);
  const metrics = openMetrics(() => jobs.waiting);

  const app = express();
  app.disable('x-powered-by');
  app.set('etag', 'weak');
  app.set('query parser', 'simple');
  app.set('trust proxy', config.trustProxy);
  app.use(requestLog(log, metrics), policies(config.address?.protocol === 'https:'), knownHosts(config), compression({ threshold: 1024 }));
  const api = Router();
  api.use(
    onlyOurPage,
    (_req, res, next) => {
      res.setHeader('Cache-Control', 'no-store');
      next();
    },
    stateRoutes(database, metrics, config.metricsToken),
    recognise(config, sessions),
    limit(counts, config.requestsPerMinute),
    fairShare(),
    // Whatever is looked into for this request is the person's.
    (_req, res, next) => asking.run((res.locals['person'] as Person | undefined)?.id ?? 'nobody', next),
    openRoutes(accounts),
    signOnRoutes(signOns),
    // From here on nothing is answered to whoever is not signed in.
    signedInOnly,
    designRoutes(designs, (config.shapes ?? SHAPE_LIMITS).one),
    remarkRoutes(designs, (id) => watch.changed(id)),
    strengthRoutes(new Strength(jobs, log)),
  );
  if (config.accounts) api.use(accountRoutes(accounts), sharingRoutes(new Sharing(database, audit), designs, audit));
  api.use(notFound);
  // The browser comes from the issuer with it: before what answers our own page alone.
  app.use('/api', signOnCallback(signOns, limit(counts, config.requestsPerMinute)));
  app.use('/api', api);
  if (page && existsSync(page)) servePage(app, page);
  app.use(notFound);
  app.use(problems(log));
  const upgrades = new Upgrades(
    [knownHosts(config), onlyOurPage, recognise(config, sessions), limit(counts, config.requestsPerMinute), signedInOnly],
    [new StandIns(), watch],
  );
  return {
    express: app,
    upgrade: upgrades.upgrade,
    designs,
    accounts,
    async sweep() {
      await sessions.sweep();
      await audit.sweep();
      await designs.purge(config.deletedDays);
      await designs.sweepShapes();
      await watch.sweep();
      await signOn.sweep();
    },
    end() {
      watch.end();
      upgrades.end();
      counts.end();
      designs.end();
    },
  };
}

function servePage(app: Express, page: string): void {
  app.use(
    express.static(page, {
      index: false,
      maxAge: '1h',
      setHeaders: (res, path) => {
        if (/-[A-Z0-9]{8}\.\w+$/.test(path)) res.setHeader('Cache-Control', 'public, max-age=31536000, immutable');
        // What says which version there is must be asked for each time.
        else if (/ngsw[^/]*$|index\.html$|guide\.json$/.test(path)) res.setHeader('Cache-Control', 'no-cache');
      },
    }),
  );
  app.get(/^\/(?!api\/)[^.]*$/, (_req, res) => {
    res.setHeader('Cache-Control', 'no-cache');
    res.sendFile(join(page, 'index.html'));
  });
}
