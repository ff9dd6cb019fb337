import type { IncomingMessage } from 'node:http';
import { parse, serialize } from 'cookie';
import type { Request, RequestHandler, Response } from 'express';
import type { Config } from '../config';
import { Refusal } from '../refusal';
import { LOCAL, type Person } from './person';
import type { Sessions, SignedIn } from './sessions';

/** Behind TLS the name itself forbids the cookie to be set from elsewhere. */
const cookieName = (secure: boolean): string => (secure ? '__Host-unirota' : 'unirota');
const isSecure = (req: IncomingMessage & { secure?: boolean }, config: Pick<Config, 'address'>): boolean =>
  req.secure === true || config.address?.protocol === 'https:';

/**
 * The one place where it is found out who asks. Without accounts that is the person at the machine; with
 * them, whose session the cookie names. Another way to sign in would come in here and nowhere else.
 */
export function recognise(config: Pick<Config, 'accounts' | 'address'>, sessions: Sessions): RequestHandler {
  return async (req, res, next) => {
    if (!config.accounts) res.locals['person'] = LOCAL;
    else {
      const token = sessionToken(req, config);
      const person = token === undefined ? undefined : await sessions.person(token);
      if (person) res.locals['person'] = person;
    }
    next();
  };
}

/** Who asks; refuses whoever is not signed in. */
export function personOf(res: Response): Person {
  const person = res.locals['person'] as Person | undefined;
  if (!person) throw new Refusal(401, 'Sign in first', { signIn: true });
  return person;
}
export const maybePerson = (res: Response): SignedIn | undefined => res.locals['person'] as SignedIn | undefined;

export const signedInOnly: RequestHandler = (_req, res, next) => {
  personOf(res);
  next();
};

export function administratorOf(res: Response): Person {
  const person = personOf(res);
  if (person.role !== 'administrator') throw new Refusal(403, 'Only an administrator may do this');
  return person;
}

/** The session that a request carries; also one that has become a WebSocket, of which nobody has said whether it came by TLS. */
export function sessionToken(req: IncomingMessage, config: Pick<Config, 'address'>): string | undefined {
  const cookies = parse(req.headers.cookie ?? '');
  // No page that came without TLS can have set the cookie with the strict name.
  const strict = isSecure(req, config) || (!('secure' in req) && cookieName(true) in cookies);
  const token = cookies[cookieName(strict)];
  return token && /^[A-Za-z0-9_-]{43}$/.test(token) ? token : undefined;
}

/** Sets or, without a token, takes away the cookie of a session. It ends with the browser's; the server ends it sooner. */
export function setSession(req: Request, res: Response, config: Pick<Config, 'address' | 'session'>, token: string | undefined): void {
  const secure = isSecure(req, config);
  res.append(
    'Set-Cookie',
    serialize(cookieName(secure), token ?? '', {
      httpOnly: true,
      sameSite: 'lax',
      secure,
      path: '/',
      maxAge: token === undefined ? 0 : config.session.hours * 3600,
    }),
  );
}
