import type { RequestHandler } from 'express';
import type { Person } from '../accounts/person';
import { Refusal } from '../refusal';

/** Requests of one person that are answered at once, and that wait for it. */
const AT_ONCE = 6;
const WAITING = 120;
/** How long one waits for its turn, ms. */
const PATIENCE = 20_000;

interface Share {
  busy: number;
  waiting: (() => void)[];
}

/**
 * Lets few reads and few writes of one person through at once: the others wait their turn, so that whoever asks much waits for
 * himself and not others for him. Where nobody is signed in it goes by address.
 */
export function fairShare(atOnce = AT_ONCE, most = WAITING): RequestHandler {
  const shares = new Map<string, Share>();
  return (req, res, next) => {
    const person = res.locals['person'] as Person | undefined;
    // Reading does not wait for what one writes.
    const kind = req.method === 'GET' || req.method === 'HEAD' ? 'reads' : 'writes';
    const name = person?.name ? `${kind} of ${person.id}` : `${kind} from ${req.ip}`;
    const share = shares.get(name) ?? { busy: 0, waiting: [] };
    shares.set(name, share);
    const leave = (): void => {
      share.busy--;
      share.waiting.shift()?.();
      if (!share.busy && !share.waiting.length) shares.delete(name);
    };
    const enter = (): void => {
      share.busy++;
      res.once('close', leave);
      next();
    };
    if (share.busy < atOnce) return enter();
    if (share.waiting.length >= most) throw new Refusal(429, 'Too many requests at once: wait a moment', { retryAfter: 2 });
    const late = setTimeout(() => {
      gone();
      next(new Refusal(503, 'Your other requests take too long; nothing is lost, try again', { retryAfter: 5 }));
    }, PATIENCE);
    const turn = (): void => {
      clearTimeout(late);
      res.off('close', gone);
      enter();
    };
    const gone = (): void => {
      clearTimeout(late);
      res.off('close', gone);
      const at = share.waiting.indexOf(turn);
      if (at >= 0) share.waiting.splice(at, 1);
    };
    res.once('close', gone);
    share.waiting.push(turn);
  };
}
