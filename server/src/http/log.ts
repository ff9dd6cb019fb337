import { randomUUID } from 'node:crypto';
import type { Request, RequestHandler } from 'express';
import type { Logger } from 'pino';
import { Gauge, Histogram, Registry, collectDefaultMetrics } from 'prom-client';
import type { Person } from '../accounts/person';

/** Measures in the open text format. */
export interface Metrics {
  registry: Registry;
  request: Histogram<'method' | 'route' | 'status'>;
}

export function openMetrics(waiting: () => number): Metrics {
  const registry = new Registry();
  collectDefaultMetrics({ register: registry, prefix: 'unirota_' });
  const gauge: Gauge = new Gauge({
    name: 'unirota_checks_waiting',
    help: 'Documents that wait for a worker',
    registers: [registry],
    collect: (): void => gauge.set(waiting()),
  });
  return {
    registry,
    request: new Histogram({
      name: 'unirota_request_seconds',
      help: 'Time to answer a request',
      labelNames: ['method', 'route', 'status'],
      buckets: [0.005, 0.02, 0.05, 0.1, 0.25, 0.5, 1, 2.5, 10],
      registers: [registry],
    }),
  };
}

const SENT_ID = /^[A-Za-z0-9-]{8,64}$/;
/** The pattern of the address, never the address: ids tell nothing, and a link's secret never stands in one. */
const routeOf = (req: Request): string =>
  req.route
    ? `${req.originalUrl.startsWith('/api/') ? '/api' : ''}${String((req.route as { path: unknown }).path)}`
    : req.path.startsWith('/api')
      ? 'unknown'
      : 'page';

/** Gives every request an id, writes it down with what came of it, and measures it. No body, no query, no header is written. */
export function requestLog(log: Logger, { request }: Metrics): RequestHandler {
  return (req, res, next) => {
    const sent = req.headers['x-request-id'];
    const id = typeof sent === 'string' && SENT_ID.test(sent) ? sent : randomUUID();
    res.setHeader('X-Request-Id', id);
    const begin = process.hrtime.bigint();
    res.once('close', () => {
      const seconds = Number(process.hrtime.bigint() - begin) / 1e9;
      const route = routeOf(req);
      const status = res.writableFinished ? res.statusCode : 499;
      request.observe({ method: req.method, route, status: String(status) }, seconds);
      const person = (res.locals['person'] as Person | undefined)?.id;
      log.info({ id, method: req.method, route, status, ms: Math.round(seconds * 1000), person, design: req.params['id'] }, 'request');
    });
    next();
  };
}
