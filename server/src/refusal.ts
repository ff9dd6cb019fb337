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

const BUSY_CODES = new Set([
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
export const databaseBusy = (e: unknown): boolean => BUSY_CODES.has(codeOf(e));
