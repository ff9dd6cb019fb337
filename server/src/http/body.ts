import express, { type RequestHandler } from 'express';
import { LARGEST_DOCUMENT } from '@unirota/contract';
import { Refusal } from './problem';

/** Bytes of documents that one server takes in at once: more waits outside. */
const ROOM = 256 * 1024 * 1024;
let taken = 0;

const budget: RequestHandler = (req, res, next) => {
  const size = Math.min(LARGEST_DOCUMENT, Number(req.headers['content-length'] ?? LARGEST_DOCUMENT) || 0);
  if (taken + size > ROOM) {
    throw new Refusal(503, 'The server is taking in as much as it can just now; nothing is lost, try again', { retryAfter: 2 });
  }
  taken += size;
  res.once('close', () => (taken -= size));
  next();
};

/** The body of a request that carries a document, as bytes: it is parsed and checked by a worker. */
export const documentBody: RequestHandler[] = [budget, express.raw({ type: 'application/json', limit: LARGEST_DOCUMENT })];

/** The body of any other request, as an object. */
export const smallBody: RequestHandler = express.json({ limit: '16kb', strict: true });
