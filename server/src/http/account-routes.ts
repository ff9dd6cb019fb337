import { type Request, Router } from 'express';
import {
  type ChangePassphrase,
  type Join,
  type PersonChange,
  type SessionAnswer,
  type SignIn,
  type SignOutAnswer,
  inviteSchema,
  joinSchema,
  passphraseSchema,
  personChangeSchema,
  signInSchema,
  transferSchema,
} from '@unirota/contract';
import type { Config } from '../config';
import { smallBody } from './body';
import { inCalendar } from '../database/calendar';
import { checked, idIn } from './checked';
import { Refusal } from '../refusal';
import type { Attempts } from '../accounts/attempts';
import type { Audit } from '../accounts/audit';
import type { People } from '../accounts/people';
import type { SignOn } from '../accounts/sign-on';
import { ownAddress } from './sign-on-routes';
import { administratorOf, maybePerson, personOf, sessionToken, setSession } from '../accounts/recognise';
import type { Sessions, SignedIn } from '../accounts/sessions';

export interface Accounts {
  config: Pick<Config, 'accounts' | 'address' | 'session'>;
  people: People;
  sessions: Sessions;
  attempts: Attempts;
  audit: Audit;
  signOn: SignOn;
}

/** What may be asked by anybody: who one is, signing in and out, and taking up an invitation. */
export function openRoutes({ config, people, sessions, attempts, audit, signOn }: Accounts): Router {
  const r = Router();
  r.get('/session', async (_req, res) => {
    const answer: SessionAnswer = { accounts: config.accounts };
    const person = maybePerson(res);
    if (config.accounts && person) answer.person = { id: person.id, name: person.name, login: person.login, role: person.role };
    else if (config.accounts && !(await people.any())) answer.empty = true;
    if (config.accounts && signOn.issuers.length) answer.issuers = signOn.issuers.map(({ id, name }) => ({ id, name }));
    res.json(answer);
  });
  if (!config.accounts) return r;
  r.post('/session', smallBody, async (req, res) => {
    const { login, passphrase } = checked<SignIn>(signInSchema, req.body);
    // By the account that is meant, however its name is spelled.
    const meant = await people.idOf(login);
    const attempt = await attempts.begin(meant ?? login.normalize('NFKC').trim().toLowerCase(), req.ip ?? '');
    const row = await people.recognise(login, passphrase);
    // Beside the answer, which takes as long where there is no such account.
    if (!row && meant) people.noteFailure(meant);
    if (!row) throw new Refusal(401, 'Name and passphrase do not belong together, or the account is closed');
    await attempt.forgive();
    // A new session for whoever signs in: one that was begun before is not taken over.
    const before = sessionToken(req, config);
    if (before) await sessions.end(before);
    setSession(req, res, config, await sessions.begin(row.id));
    const person = { id: row.id, name: row.name, login: row.login, role: row.role };
    await audit.note(person, 'signed in');
    res.json({ accounts: true, person } satisfies SessionAnswer);
  });
  r.delete('/session', async (req, res) => {
    const token = sessionToken(req, config);
    const at = token ? await sessions.begunAt(token) : undefined;
    if (token) await sessions.end(token);
    setSession(req, res, config, undefined);
    const leave = at && (await signOn.leaving(at.issuer, at.idToken, `${ownAddress(req, config)}/`));
    res.json((leave ? { leave } : {}) satisfies SignOutAnswer);
  });
  r.post('/join', smallBody, async (req, res) => {
    const join = checked<Join>(joinSchema, req.body);
    await attempts.begin(`link ${join.token.slice(0, 8)}`, req.ip ?? '');
    const { person, session } = await people.join(join);
    setSession(req, res, config, session);
    res.status(201).json({ accounts: true, person } satisfies SessionAnswer);
  });
  return r;
}

/** What whoever is signed in may ask of people and sessions; some of it only an administrator. */
export function accountRoutes({ config, people, sessions, attempts, audit }: Accounts): Router {
  const r = Router();
  const NOBODY = 'There is no such person';
  r.delete('/sessions', async (req, res) => {
    await sessions.endAll(personOf(res).id);
    setSession(req, res, config, undefined);
    res.status(204).end();
  });
  r.get('/sessions', async (req, res) => void res.json(await sessions.list(personOf(res).id, sessionToken(req, config))));
  r.delete('/sessions/:id', async (req, res) => {
    const person = personOf(res);
    const none = new Refusal(404, 'There is no such session');
    if (!(await sessions.endOne(person.id, hashIn(req, none)))) throw none;
    await audit.note(person, 'session ended');
    res.status(204).end();
  });
  r.put('/passphrase', smallBody, async (req, res) => {
    const person = personOf(res) as SignedIn;
    const change = checked<ChangePassphrase>(passphraseSchema, req.body);
    // Guessing it here counts as guessing it anywhere.
    const attempt = await attempts.begin(person.id, req.ip ?? '');
    const token = await people.changePassphrase(person, change).catch(async (e: unknown) => {
      // A new one that will not do is no wrong guess of the present one.
      if (!(e instanceof Refusal && e.more.problems?.some((p) => p.path === 'current'))) await attempt.forgive();
      throw e;
    });
    await attempt.forgive();
    setSession(req, res, config, token);
    res.status(204).end();
  });
  r.get('/people', async (_req, res) => void res.json(await people.list(personOf(res).role === 'administrator')));
  r.patch('/people/:id', smallBody, async (req, res) => {
    const by = administratorOf(res);
    await people.change(idIn(req, 'id', NOBODY), checked<PersonChange>(personChangeSchema, req.body), by);
    res.status(204).end();
  });
  r.post('/people/:id/reset', async (req, res) => {
    const by = administratorOf(res);
    res.status(201).json(await people.offerNewPassphrase(idIn(req, 'id', NOBODY), by));
  });
  r.post('/people/:id/transfer', smallBody, async (req, res) => {
    const by = administratorOf(res);
    const { to } = checked<{ to: string }>(transferSchema, req.body);
    res.json(await people.transfer(idIn(req, 'id', NOBODY), to, by));
  });
  r.post('/invitations', smallBody, async (req, res) => {
    const by = administratorOf(res);
    res.status(201).json(await people.invite(checked<{ role: 'administrator' | 'member' }>(inviteSchema, req.body).role, by));
  });
  r.get('/invitations', async (_req, res) => {
    administratorOf(res);
    res.json(await people.openInvitations());
  });
  r.delete('/invitations/:id', async (req, res) => {
    const by = administratorOf(res);
    await people.revokeInvitation(hashIn(req, new Refusal(404, 'There is no such invitation')), by);
    res.status(204).end();
  });
  r.get('/audit', async (req, res) => {
    const by = administratorOf(res);
    const before = typeof req.query.before === 'string' ? new Date(req.query.before) : new Date(Date.now() + 1000);
    if (!inCalendar(before)) throw new Refusal(400, 'before must be a time within the calendar');
    res.json(await audit.list(null, before, by.id));
  });
  return r;
}

/** What lists call a session or an invitation: the hash of its token. */
function hashIn(req: Request, otherwise: Refusal): string {
  const id = String(req.params['id']);
  if (!/^[0-9a-f]{64}$/.test(id)) throw otherwise;
  return id;
}
