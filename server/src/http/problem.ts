import type { ErrorRequestHandler, RequestHandler } from 'express';
import type { Logger } from 'pino';
import type { ProblemAnswer } from '@unirota/contract';

/** An answer that is not a success: carried as an exception from a service to the one place that writes it. */
export class Refusal extends Error {
  constructor(
    readonly status: number,
    title: string,
    readonly more: Partial<ProblemAnswer> & { retryAfter?: number } = {},
  ) {
    super(title);
  }
}

const codeOf = (e: unknown): string => (e as { code?: string } | null)?.code ?? '';

const DATABASE_AWAY = new Set([
  'ECONNREFUSED',
  'PROTOCOL_CONNECTION_LOST',
  'ECONNRESET',
  'ETIMEDOUT',
  'EPIPE',
  'ENOENT',
  'ER_SERVER_SHUTDOWN',
  'ER_CONNECTION_KILLED',
  'ER_CON_COUNT_ERROR',
  'ER_USER_LIMIT_REACHED',
  'ER_UNKNOWN_COM_ERROR',
  'ENOTFOUND',
  'EAI_AGAIN',
]);
/** The database is not there just now, or (a cluster's node that is not ready) does not take statements. */
export const databaseAway = (e: unknown): boolean =>
  DATABASE_AWAY.has(codeOf(e)) || (e as { fatal?: boolean } | null)?.fatal === true || (e as { errno?: number } | null)?.errno === 1047;

const BUSY = new Set([
  'POOL_TIMEOUT',
  'POOL_ENQUEUELIMIT',
  'PROTOCOL_SEQUENCE_TIMEOUT',
  'ER_STATEMENT_TIMEOUT',
  'ER_LOCK_WAIT_TIMEOUT',
  'ER_LOCK_DEADLOCK',
  'ER_CHECKREAD',
  'ER_QUERY_INTERRUPTED',
]);
const DISK_FULL = new Set(['ER_DISK_FULL', 'ER_RECORD_FILE_FULL', 'ER_OUT_OF_RESOURCES', 'ENOSPC']);
const NO_SPACE = /No space left|Disk.* full|table .* is full|errno: 28\b|Error writing file/i;
export const diskFull = (e: unknown): boolean => DISK_FULL.has(codeOf(e)) || (/^ER_/.test(codeOf(e)) && NO_SPACE.test((e as Error).message));

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
  if (BUSY.has(codeOf(error))) {
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
