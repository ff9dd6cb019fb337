import { createReadStream } from 'node:fs';
import { pipeline } from 'node:stream/promises';
import { Router } from 'express';
import { documentBody } from './body';
import { Refusal } from '../refusal';
import type { Listener, Strength } from '../strength/strength';

/** How often a long run says that it goes on, so that nothing on the way takes it for a dead one, ms. */
const STILL_EVERY = 10_000;

/** Strength models over HTTP: one request is one job, that tells how it goes line by line, and ends when the client goes away. */
export function strengthRoutes(strength: Strength): Router {
  const r = Router();
  r.post('/strength', ...documentBody, async (req, res) => {
    if (!Buffer.isBuffer(req.body)) throw new Refusal(400, 'The request is not JSON');
    const gone = new AbortController();
    res.once('close', () => gone.abort());
    const say = (text: string): void => {
      if (res.destroyed) return;
      if (!res.headersSent) res.type('application/x-ndjson');
      res.write(text);
      res.flush?.();
    };
    const still = setInterval(() => res.headersSent && say('\n'), STILL_EVERY);
    const listener: Listener = {
      tell: (news) => say(`${JSON.stringify(news)}\n`),
      async give(result, deckAsJson) {
        // From here on it is one line.
        clearInterval(still);
        say(`{"done":${JSON.stringify(result).slice(0, -1)},"deck":`);
        await pipeline(createReadStream(deckAsJson), res, { end: false, signal: gone.signal });
        say('}}\n');
      },
    };
    try {
      await strength.make(req.body, listener, gone.signal);
    } catch (e) {
      if (!res.headersSent) throw e;
      listener.tell({ problem: 'The server could not make it: this is a fault of the program.' });
    } finally {
      clearInterval(still);
    }
    res.end();
  });
  return r;
}
