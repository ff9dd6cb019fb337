import express, { type RequestHandler, type Response } from 'express';
import { LARGEST_DOCUMENT } from '@unirota/contract';
import type { Person } from '../accounts/person';
import { nestedTooDeep } from '../jobs/reading';
import { Refusal } from '../refusal';

/** Bytes of documents that one server takes in at once: of all, and of one person; more waits outside. */
const ROOM = 256 * 1024 * 1024;
const ROOM_OF_ONE = 64 * 1024 * 1024;
let taken = 0;
const takenBy = new Map<string, number>();

const ownerOf = (res: Response): string => (res.locals['person'] as Person | undefined)?.id ?? '';

const budget =
  (largest: number): RequestHandler =>
  (req, res, next) => {
    const size = Math.min(largest, Number(req.headers['content-length'] ?? largest) || 0);
    const owner = ownerOf(res);
    const own = takenBy.get(owner) ?? 0;
    if (own + size > ROOM_OF_ONE) {
      throw new Refusal(429, 'You are sending as much as one person can at once; nothing is lost, try again', { retryAfter: 2 });
    }
    if (taken + size > ROOM) {
      throw new Refusal(503, 'The server is taking in as much as it can just now; nothing is lost, try again', { retryAfter: 2 });
    }
    taken += size;
    takenBy.set(owner, own + size);
    res.once('close', () => {
      taken -= size;
      const left = (takenBy.get(owner) ?? size) - size;
      if (left > 0) takenBy.set(owner, left);
      else takenBy.delete(owner);
    });
    next();
  };

/**
 * The body of a request that carries a document, as bytes: it is parsed and checked by a worker. What is compressed is
 * refused: it would be counted as less than it is.
 */
export const documentBody: RequestHandler[] = [
  budget(LARGEST_DOCUMENT),
  express.raw({ type: 'application/json', limit: LARGEST_DOCUMENT, inflate: false }),
];

/** The content of a shape, or a release, as bytes; at most so many. */
export const bytesBody = (largest: number): RequestHandler[] => [
  budget(largest),
  express.raw({ type: 'application/octet-stream', limit: largest, inflate: false }),
];

/** How deep any other request is nested at most. */
const DEEPEST = 6;
/** The body of any other request, as an object. */
export const smallBody: RequestHandler = express.json({
  limit: '16kb',
  strict: true,
  inflate: false,
  verify: (_req, _res, bytes) => {
    if (nestedTooDeep(bytes, DEEPEST)) throw new Refusal(422, 'The request is nested too deep');
  },
});
