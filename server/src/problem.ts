import type { ErrorRequestHandler, RequestHandler } from 'express';
import type { Logger } from 'pino';
import type { ProblemAnswer } from '@unirota/contract';

/** An answer that is not a success: carried as an exception from a service to the one place that writes it. */
export class Refusal extends Error {
  constructor(
    readonly status: number,
    title: string,
    readonly more: Partial<ProblemAnswer> = {},
  ) {
    super(title);
  }
}

const DATABASE_AWAY = new Set([
  'ECONNREFUSED',
  'PROTOCOL_CONNECTION_LOST',
  'ECONNRESET',
  'ETIMEDOUT',
  'EPIPE',
  'ER_SERVER_SHUTDOWN',
  'ER_CONNECTION_KILLED',
  'ENOTFOUND',
  'POOL_ENQUEUELIMIT',
]);

export const databaseAway = (e: unknown): boolean => DATABASE_AWAY.has((e as { code?: string } | null)?.code ?? '');

export const notFound: RequestHandler = (req) => {
  throw new Refusal(404, 'There is nothing at this address', { detail: req.path });
};

/** Writes every error as application/problem+json; what the client did not cause is logged and never shown. */
export function problems(log: Logger): ErrorRequestHandler {
  return (error: unknown, _req, res, next) => {
    if (res.headersSent) return next(error);
    let answer: ProblemAnswer;
    const e = error as { status?: number; type?: string };
    if (error instanceof Refusal) answer = { type: 'about:blank', title: error.message, status: error.status, ...error.more };
    else if (databaseAway(error)) {
      log.warn({ err: error }, 'database away');
      answer = { type: 'about:blank', title: 'The database does not answer just now; nothing is lost, try again', status: 503 };
    } else if (e.type === 'entity.too.large') answer = { type: 'about:blank', title: 'This design is too large to be saved', status: 413 };
    else if (e.type === 'entity.parse.failed') answer = { type: 'about:blank', title: 'The request is not JSON', status: 400 };
    else if (typeof e.status === 'number' && e.status >= 400 && e.status < 500) {
      answer = { type: 'about:blank', title: 'The request cannot be read', status: e.status };
    } else {
      log.error({ err: error }, 'unexpected');
      answer = { type: 'about:blank', title: 'Something went wrong on the server; nothing was changed', status: 500 };
    }
    if (answer.status === 503) res.setHeader('Retry-After', '2');
    res.status(answer.status).type('application/problem+json').send(JSON.stringify(answer));
  };
}
