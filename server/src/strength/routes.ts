import { Router } from 'express';
import type { StrengthNews } from '@unirota/contract/strength';
import { documentBody } from '../http/body';
import { Refusal } from '../http/problem';
import type { Strength } from './strength';

/** Strength models over HTTP: one request is one job, that tells how it goes line by line, and ends when the client goes away. */
export function strengthRoutes(strength: Strength): Router {
  const r = Router();
  r.post('/strength', ...documentBody, async (req, res) => {
    if (!Buffer.isBuffer(req.body)) throw new Refusal(400, 'The request is not JSON');
    const gone = new AbortController();
    res.once('close', () => gone.abort());
    const tell = (news: StrengthNews): void => {
      if (res.destroyed) return;
      if (!res.headersSent) res.type('application/x-ndjson');
      res.write(`${JSON.stringify(news)}\n`);
      res.flush?.();
    };
    // A line now and then, so that nothing on the way takes a long run for a dead one.
    const still = setInterval(() => res.headersSent && !res.destroyed && (res.write('\n'), res.flush?.()), 10_000);
    try {
      await strength.make(req.body, tell, gone.signal);
    } catch (e) {
      if (!res.headersSent) throw e;
      tell({ problem: 'The server could not make it: this is a fault of the program.' });
    } finally {
      clearInterval(still);
    }
    res.end();
  });
  return r;
}
