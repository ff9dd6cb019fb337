import type { ErrorRequestHandler, RequestHandler } from 'express';
import type { Logger } from 'pino';
import type { ProblemAnswer } from '@unirota/contract';
import { Refusal, databaseAway, databaseBusy, diskFull } from '../refusal';

export const notFound: RequestHandler = (req) => {
  throw new Refusal(404, 'There is nothing at this address', { detail: req.path.slice(0, 200) });
};

const READ_TROUBLE: Readonly<Record<string, [number, string]>> = {
  'entity.too.large': [413, 'This is too large to be taken'],
  'entity.parse.failed': [400, 'The request is not JSON'],
  'request.aborted': [400, 'The request was cut off'],
  'request.size.invalid': [400, 'The request is not as long as it says'],
  'encoding.unsupported': [415, 'The request is encoded in a way that is not known here'],
  'charset.unsupported': [415, 'The request must be UTF-8'],
};

function answerTo(error: unknown, log: Logger): ProblemAnswer & { retryAfter?: number } {
  const about = (status: number, title: string): ProblemAnswer => ({ type: 'about:blank', title, status });
  if (error instanceof Refusal) return { ...about(error.status, error.message), ...error.more };
  const e = error as { status?: number; type?: string };
  const read = READ_TROUBLE[e.type ?? ''];
  if (read) return about(...read);
  if (diskFull(error)) {
    log.error({ err: error }, 'disk full');
    return { ...about(507, 'The disk of the server is full: nothing was stored, nothing is lost. Make room, then it goes on'), retryAfter: 15 };
  }
  if (databaseBusy(error)) {
    log.warn({ err: error }, 'database busy');
    return { ...about(503, 'The database is busy just now; nothing is lost, try again'), retryAfter: 2 };
  }
  if (databaseAway(error)) {
    log.warn({ err: error }, 'database away');
    return { ...about(503, 'The database does not answer just now; nothing is lost, try again'), retryAfter: 2 };
  }
  if (typeof e.status === 'number' && e.status >= 400 && e.status < 500) return about(e.status, 'The request cannot be read');
  log.error({ err: error }, 'unexpected');
  return about(500, 'Something went wrong on the server; nothing was changed');
}

/** Problems of a document that an answer names at most. */
const MOST_PROBLEMS = 50;

/** Writes every error as application/problem+json, short; what the client did not cause is logged and never shown. */
export function problems(log: Logger): ErrorRequestHandler {
  return (error: unknown, req, res, next) => {
    if (res.headersSent) return next(error);
    const { retryAfter, ...answer } = answerTo(error, log);
    if (answer.problems && answer.problems.length > MOST_PROBLEMS) {
      answer.detail ??= `The first ${MOST_PROBLEMS} of ${answer.problems.length} places`;
      answer.problems = answer.problems.slice(0, MOST_PROBLEMS);
    }
    if (retryAfter) res.setHeader('Retry-After', String(retryAfter));
    // What is still on its way is not read: the connection ends with the answer.
    if (!req.complete) res.setHeader('Connection', 'close');
    res.status(answer.status).type('application/problem+json').send(JSON.stringify(answer));
  };
}
