import { parse, serialize } from 'cookie';
import { Router, type Request, type RequestHandler, type Response } from 'express';
import type { Logger } from 'pino';
import type { Audit } from '../accounts/audit';
import { type Issuer } from '../issuers';
import { maybePerson, sessionToken, setSession } from '../accounts/recognise';
import type { Sessions } from '../accounts/sessions';
import { NotSignedOn, type SignOn, type SignOnTrouble, ownPlace } from '../accounts/sign-on';
import type { Config } from '../config';
import { Refusal } from '../refusal';

export interface SignOns {
  config: Pick<Config, 'accounts' | 'address' | 'session'>;
  signOn: SignOn;
  sessions: Sessions;
  audit: Audit;
  log: Logger;
}

const COOKIE = 'unirota-sign-on';
const SECONDS = 600;

/** The address at which the page was asked; its name has been checked. */
export const ownAddress = (req: Request, { address }: Pick<Config, 'address'>): string => address?.origin ?? `${req.protocol}://${req.headers.host}`;
const callbackOf = (req: Request, config: Pick<Config, 'address'>, issuer: Issuer): string =>
  `${ownAddress(req, config)}/api/sign-on/${issuer.id}/callback`;
function issuerIn(signOn: SignOn, req: Request): Issuer {
  const issuer = signOn.of(String(req.params['issuer']));
  if (!issuer) throw new Refusal(404, 'There is no such sign-in');
  return issuer;
}
/** Binds what was begun to the browser that began it. */
function setState(req: Request, res: Response, config: Pick<Config, 'address'>, state: string | undefined): void {
  const secure = req.secure || config.address?.protocol === 'https:';
  const options = { httpOnly: true, sameSite: 'lax', secure, path: '/api/sign-on', maxAge: state === undefined ? 0 : SECONDS } as const;
  res.append('Set-Cookie', serialize(COOKIE, state ?? '', options));
}

/** Begins a sign-in; asked by our own page alone. */
export function signOnRoutes({ config, signOn }: SignOns): Router {
  const r = Router();
  r.get('/sign-on/:issuer', async (req, res) => {
    const issuer = issuerIn(signOn, req);
    try {
      const { address, state } = await signOn.begin(issuer, callbackOf(req, config, issuer), ownPlace(req.query['to']), maybePerson(res));
      setState(req, res, config, state);
      res.redirect(302, address.href);
    } catch (e) {
      if (!(e instanceof NotSignedOn)) throw e;
      res.redirect(302, placeOf(e.why));
    }
  });
  return r;
}
const placeOf = (why: SignOnTrouble): string => `/?signOn=${why}`;

/** Takes what the browser brings from an issuer: the one request that another site may lead to. */
export function signOnCallback({ config, signOn, sessions, audit, log }: SignOns, limit: RequestHandler): Router {
  const r = Router();
  r.get('/sign-on/:issuer/callback', limit, async (req, res) => {
    res.setHeader('Cache-Control', 'no-store');
    const issuer = issuerIn(signOn, req);
    const held = parse(req.headers.cookie ?? '')[COOKIE];
    setState(req, res, config, undefined);
    try {
      const url = new URL(callbackOf(req, config, issuer));
      url.search = new URL(req.originalUrl, url).search;
      if (!held || held !== url.searchParams.get('state')) throw new NotSignedOn('late');
      const { session, person, backTo } = await signOn.take(issuer, url, held);
      const before = sessionToken(req, config);
      if (before) await sessions.end(before);
      setSession(req, res, config, session);
      await audit.note(person, 'signed in', null, issuer.name);
      res.redirect(302, backTo);
    } catch (e) {
      if (!(e instanceof NotSignedOn)) throw e;
      log.warn({ err: e.cause, issuer: issuer.id, why: e.why }, 'not signed on');
      res.redirect(302, placeOf(e.why));
    }
  });
  return r;
}
