import { existsSync } from 'node:fs';
import { join } from 'node:path';
import compression from 'compression';
import express, { type Express } from 'express';
import { rateLimit } from 'express-rate-limit';
import helmet from 'helmet';
import type { Logger } from 'pino';
import { LARGEST_DOCUMENT } from '@unirota/contract';
import type { Designs } from './designs';
import { notFound, problems } from './problem';
import { routes } from './routes';

export interface AppOptions {
  designs: Designs;
  log: Logger;
  /** Folder of the built page; without it only the interface is served. */
  page?: string;
  /** Requests per minute and address. */
  limit?: number;
}

/** The application without a port: used by the server and by tests. */
export function createApp({ designs, log, page, limit = 1200 }: AppOptions): Express {
  const app = express();
  app.disable('x-powered-by');
  app.set('etag', 'weak');
  app.use(
    helmet({
      contentSecurityPolicy: {
        useDefaults: false,
        directives: {
          defaultSrc: ["'self'"],
          scriptSrc: ["'self'"],
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
      strictTransportSecurity: false,
    }),
  );
  app.use(compression());
  app.use(
    '/api',
    rateLimit({
      windowMs: 60_000,
      limit,
      standardHeaders: 'draft-8',
      legacyHeaders: false,
      handler: (_req, res) =>
        void res
          .status(429)
          .type('application/problem+json')
          .send(JSON.stringify({ type: 'about:blank', title: 'Too many requests: wait a moment', status: 429 })),
    }),
    (_req, res, next) => {
      res.setHeader('Cache-Control', 'no-store');
      next();
    },
    express.json({ limit: LARGEST_DOCUMENT, strict: true }),
    routes(designs),
    notFound,
  );
  if (page && existsSync(page)) {
    app.use(
      express.static(page, {
        index: false,
        maxAge: '1h',
        setHeaders: (res, path) => void (/-[A-Z0-9]{8}\.\w+$/.test(path) && res.setHeader('Cache-Control', 'public, max-age=31536000, immutable')),
      }),
    );
    app.get(/^\/(?!api\/)[^.]*$/, (_req, res) => {
      res.setHeader('Cache-Control', 'no-cache');
      res.sendFile(join(page, 'index.html'));
    });
  }
  app.use(notFound);
  app.use(problems(log));
  return app;
}
