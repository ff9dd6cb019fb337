import { randomUUID } from 'node:crypto';
import type { ChangePassphrase, InvitationAnswer, InvitationLine, Join, PersonChange, PersonLine, TransferAnswer } from '@unirota/contract';
import type { Database, Statements } from '../database/database';
import { Refusal } from '../refusal';
import type { Audit } from './audit';
import { LOCAL_ID, type Person } from './person';
import { hashed, matches, weakness } from './passphrase';
import type { Sessions } from './sessions';
import { newToken, tokenHash } from './token';

type Role = Person['role'];
/** No passphrase has this hash: whoever came by an issuer has none until an administrator gives a link for one. */
const NO_PASSPHRASE = '';
/** Who somebody is at an issuer, which stands as the SHA-256 of its address. */
export interface Identity {
  readonly issuer: Buffer;
  readonly subject: string;
  readonly name: string;
  readonly login: string;
  readonly role?: Role;
}
/** The identity cannot be used for this account: it belongs to another one, or the account is closed. */
export class NotTheirs extends Error {
  constructor(readonly why: 'taken' | 'closed') {
    super(why);
  }
}
interface PersonRow {
  id: string;
  login: string;
  name: string;
  role: Role;
  passphrase: string;
  disabled_at: Date | null;
}
interface InvitationRow {
  role: Role;
  person_id: string | null;
  created_by: string | null;
  expires_at: Date;
  used_at: Date | null;
}

const INVITATION_DAYS = 7;
const WRONG_LINK = 'This link has been used, has run out, or is not complete: ask for a new one';

const passphraseTrouble = (message: string): Refusal => new Refusal(422, message, { problems: [{ path: 'passphrase', message }] });

/** The people of a team: how they come in, and what an administrator does for them. */
export class People {
  constructor(
    private readonly database: Database,
    private readonly sessions: Sessions,
    private readonly audit: Audit,
  ) {}

  async any(): Promise<boolean> {
    return (await this.database.read('SELECT 1 FROM people LIMIT 1')).length > 0;
  }

  /** Whose name this is, as the database compares names: however it is spelled. */
  async idOf(login: string): Promise<string | undefined> {
    const [row] = await this.database.read<{ id: string }>('SELECT id FROM people WHERE login = :login', { login });
    return row?.id;
  }

  /** Writes a sign-in with a wrong passphrase down. Nobody waits for it. */
  noteFailure(id: string): void {
    this.audit.note({ id }, 'sign-in failed').catch(() => undefined);
  }

  /** Invitations and links for a new passphrase that can still be used. */
  async openInvitations(): Promise<InvitationLine[]> {
    const rows = await this.database.read<{ id: string; role: Role; name: string | null; by_name: string | null; expires_at: Date }>(
      `SELECT LOWER(HEX(i.token_hash)) AS id, i.role, p.name, b.name AS by_name, i.expires_at
         FROM invitations i LEFT JOIN people p ON p.id = i.person_id LEFT JOIN people b ON b.id = i.created_by
        WHERE i.used_at IS NULL AND i.expires_at > :now AND (b.id IS NULL OR b.disabled_at IS NULL) ORDER BY i.expires_at DESC LIMIT 200`,
      { now: new Date() },
    );
    return rows.map((r) => ({
      id: r.id,
      role: r.role,
      expires: r.expires_at.toISOString(),
      ...(r.name === null ? {} : { person: r.name }),
      ...(r.by_name === null ? {} : { by: r.by_name }),
    }));
  }

  async revokeInvitation(id: string, by: Person): Promise<void> {
    await this.database.transaction(async (s) => {
      const n = await s.change('UPDATE invitations SET used_at = :now WHERE token_hash = UNHEX(:id) AND used_at IS NULL', { id, now: new Date() });
      if (!n) throw new Refusal(404, 'There is no such invitation');
      await this.audit.note(by, 'invitation revoked', null, '', s);
    });
  }

  /** The person with this name and passphrase. */
  async recognise(login: string, passphrase: string): Promise<PersonRow | undefined> {
    const [row] = await this.database.read<PersonRow>('SELECT * FROM people WHERE login = :login', { login });
    const right = await matches(row?.passphrase, passphrase, row?.id ?? login);
    return right && row.disabled_at === null ? row : undefined;
  }

  async list(all: boolean): Promise<PersonLine[]> {
    const rows = await this.database.read<PersonRow>('SELECT id, login, name, role, disabled_at FROM people ORDER BY name, id');
    return rows
      .filter((r) => all || r.disabled_at === null)
      .map((r) => ({ id: r.id, name: r.name, ...(all ? { login: r.login, role: r.role, disabled: r.disabled_at !== null } : {}) }));
  }

  /** A link for somebody new; made by an administrator, or on the command line by nobody signed in. */
  async invite(role: Role, by: Person | undefined): Promise<InvitationAnswer> {
    return this.database.transaction(async (s) => {
      const made = await invitation(s, role, null, by?.id ?? null);
      if (by) await this.audit.note(by, 'invited', null, role, s);
      return made;
    });
  }

  /** A link with which a person sets a new passphrase; all sessions of before end when it is used. */
  async offerNewPassphrase(id: string, by: Person): Promise<InvitationAnswer> {
    return this.database.transaction(async (s) => {
      const row = await personRow(s, id);
      // A newer link makes those of before void.
      await s.change('UPDATE invitations SET used_at = :now WHERE person_id = :id AND used_at IS NULL', { id, now: new Date() });
      const made = await invitation(s, row.role, id, by.id);
      await this.audit.note(by, 'passphrase set', null, `link for ${row.name}`, s);
      return made;
    });
  }

  /** Takes up an invitation, or sets a new passphrase; signs in. */
  async join({ token, login, name, passphrase }: Join): Promise<{ person: Person & { login: string }; session: string }> {
    const find = async (s: Pick<Statements, 'rows'>, lock = ''): Promise<InvitationRow> => {
      const [row] = await s.rows<InvitationRow>(`SELECT * FROM invitations WHERE token_hash = :hash ${lock}`, { hash: tokenHash(token) });
      if (!row || row.used_at || row.expires_at < new Date()) throw new Refusal(410, WRONG_LINK);
      // It counts as long as the account that gave it.
      const [by] = row.created_by ? await s.rows('SELECT 1 FROM people WHERE id = :by AND disabled_at IS NULL', { by: row.created_by }) : [true];
      if (!by) throw new Refusal(410, WRONG_LINK);
      return row;
    };
    const found = await find({ rows: (sql, values) => this.database.read(sql, values) });
    if (found.person_id === null) {
      const missing = [
        ...(login ? [] : [{ path: 'login', message: 'Sign-in name is missing: state it' }]),
        ...(name ? [] : [{ path: 'name', message: 'Name is missing: state it' }]),
      ];
      if (missing.length) throw new Refusal(422, 'Something is missing', { problems: missing });
    }
    const weak = weakness(passphrase, [login ?? '', name ?? '']);
    if (weak) throw passphraseTrouble(weak);
    const stored = await hashed(passphrase);
    return this.database.transaction(async (s) => {
      const inv = await find(s, 'FOR UPDATE');
      const now = new Date();
      await s.change('UPDATE invitations SET used_at = :now WHERE token_hash = :hash', { now, hash: tokenHash(token) });
      let row: PersonRow;
      if (inv.person_id) {
        row = await personRow(s, inv.person_id);
        await s.change('UPDATE people SET passphrase = :stored WHERE id = :id', { stored, id: row.id });
        await this.sessions.endAll(row.id, s);
        await this.audit.note(row, 'passphrase set', null, '', s);
      } else row = await this.newPerson(s, inv.role, login!, name!, stored, now);
      if (row.disabled_at) throw new Refusal(403, 'This account is closed: ask an administrator');
      return { person: { id: row.id, login: row.login, name: row.name, role: row.role }, session: await this.sessions.begin(row.id, s) };
    });
  }

  private async newPerson(s: Statements, role: Role, login: string, name: string, passphrase: string, now: Date): Promise<PersonRow> {
    const [taken] = await s.rows('SELECT 1 FROM people WHERE login = :login', { login });
    if (taken) {
      throw new Refusal(422, 'This sign-in name is taken', { problems: [{ path: 'login', message: 'This sign-in name is taken: choose another' }] });
    }
    const id = randomUUID();
    await s.change('INSERT INTO people (id, login, name, role, passphrase, created_at) VALUES (:id, :login, :name, :role, :passphrase, :now)', {
      id,
      login,
      name,
      role,
      passphrase,
      now,
    });
    // What was made on this server before there were people belongs to
    // the first administrator; demo designs stay everybody's to look at.
    if (role === 'administrator') {
      await s.change(`UPDATE designs SET owner_id = :id, demo = 0 WHERE owner_id = '${LOCAL_ID}' AND (demo = 0 OR revision > 1)`, { id });
    }
    const person = { id, login, name, role, passphrase, disabled_at: null };
    await this.audit.note(person, 'joined', null, role, s);
    return person;
  }

  /**
   * Whoever signed in at an issuer: the account that the identity belongs to; one that is signed in already, to which it is
   * added; else a new account without a passphrase. A role that the issuer states is taken over each time.
   */
  async signedOn(identity: Identity, present: string | undefined): Promise<Person & { login: string }> {
    for (let round = 1; ; round++) {
      try {
        return await this.signedOnOnce(identity, present);
      } catch (e) {
        // Come twice at once, or with a name that somebody has just taken: the other one is there now.
        if ((e as { code?: string }).code !== 'ER_DUP_ENTRY' || round >= 3) throw e;
      }
    }
  }
  private async signedOnOnce({ issuer, subject, name, login, role }: Identity, present: string | undefined): Promise<Person & { login: string }> {
    const now = new Date();
    return this.database.transaction(async (s) => {
      const [known] = await s.rows<{ person_id: string }>(
        'SELECT person_id FROM identities WHERE issuer = :issuer AND subject = :subject FOR UPDATE',
        { issuer, subject },
      );
      if (known && present !== undefined && known.person_id !== present) throw new NotTheirs('taken');
      const id = known?.person_id ?? present;
      const row =
        id === undefined ? await this.newPerson(s, role ?? 'member', await freeLogin(s, login), name, NO_PASSPHRASE, now) : await personRow(s, id);
      if (row.disabled_at) throw new NotTheirs('closed');
      if (!known) {
        await s.change('INSERT INTO identities (issuer, subject, person_id, created_at) VALUES (:issuer, :subject, :id, :now)', {
          issuer,
          subject,
          id: row.id,
          now,
        });
      }
      if (role !== undefined && role !== row.role && (role === 'administrator' || (await otherAdministrator(s, row.id)))) {
        await s.change('UPDATE people SET role = :role WHERE id = :id', { role, id: row.id });
        await this.audit.note(row, 'account changed', null, `${row.name}: ${role}, as the issuer says`, s);
        return { id: row.id, login: row.login, name: row.name, role };
      }
      return { id: row.id, login: row.login, name: row.name, role: row.role };
    });
  }

  async changePassphrase(person: Person & { login: string }, { current, next }: ChangePassphrase): Promise<string> {
    if (!(await this.recognise(person.login, current))) {
      throw new Refusal(422, 'The present passphrase is not right', {
        problems: [{ path: 'current', message: 'The present passphrase is not right' }],
      });
    }
    const weak = weakness(next, [person.login, person.name]);
    if (weak) throw new Refusal(422, weak, { problems: [{ path: 'next', message: weak }] });
    const stored = await hashed(next);
    return this.database.transaction(async (s) => {
      await s.change('UPDATE people SET passphrase = :stored WHERE id = :id', { stored, id: person.id });
      await this.sessions.endAll(person.id, s);
      await this.audit.note(person, 'passphrase set', null, '', s);
      return this.sessions.begin(person.id, s);
    });
  }

  /** Gives all designs of a closed account to somebody else, deleted ones with them; what they were shared for stays. */
  async transfer(id: string, to: string, by: Person): Promise<TransferAnswer> {
    return this.database.transaction(async (s) => {
      // In one order, so that two at once do not wait for each other.
      const rows = new Map<string, PersonRow>();
      for (const x of [...new Set([id, to])].sort()) rows.set(x, await personRow(s, x));
      const [from, heir] = [rows.get(id)!, rows.get(to)!];
      if (!from.disabled_at) throw new Refusal(422, 'Only designs of a closed account can be transferred: close it first');
      if (heir.disabled_at) {
        throw new Refusal(422, 'This account is closed', { problems: [{ path: 'to', message: 'This account is closed: choose another person' }] });
      }
      // What the new owner had been given of them is his own now.
      await s.change('DELETE s FROM shares s JOIN designs d ON d.id = s.design_id WHERE s.person_id = :to AND d.owner_id = :id', { id, to });
      const designs = await s.change('UPDATE designs SET owner_id = :to WHERE owner_id = :id', { id, to });
      await this.audit.note(by, 'designs transferred', null, `${designs} from ${from.name} to ${heir.name}`, s);
      return { designs };
    });
  }

  /** Opens or closes an account, or changes its role. There is always an administrator. */
  async change(id: string, { role, disabled }: PersonChange, by: Person): Promise<void> {
    await this.database.transaction(async (s) => {
      const row = await personRow(s, id);
      const next = {
        role: role ?? row.role,
        disabled_at: disabled === undefined ? row.disabled_at : disabled ? (row.disabled_at ?? new Date()) : null,
      };
      await s.change('UPDATE people SET role = :role, disabled_at = :disabled_at WHERE id = :id', { id, ...next });
      const left = await s.rows("SELECT 1 FROM people WHERE role = 'administrator' AND disabled_at IS NULL LIMIT 1 FOR UPDATE");
      if (!left.length) throw new Refusal(422, 'There must be an administrator: make somebody else one first');
      if (next.disabled_at) await this.sessions.endAll(id, s);
      await this.audit.note(by, 'account changed', null, `${row.name}: ${next.role}${next.disabled_at ? ', closed' : ''}`, s);
    });
  }
}

/** Whether somebody else is an administrator, so that there is one in any case. */
async function otherAdministrator(s: Statements, id: string): Promise<boolean> {
  const rows = await s.rows("SELECT 1 FROM people WHERE role = 'administrator' AND disabled_at IS NULL AND id <> :id LIMIT 1 FOR UPDATE", { id });
  return rows.length > 0;
}
/** A sign-in name that nobody has: the one that is wished, or that with a number. */
async function freeLogin(s: Statements, wished: string): Promise<string> {
  for (let k = 1; ; k++) {
    const login = k === 1 ? wished : `${wished.slice(0, 110)}.${k}`;
    if (!(await s.rows('SELECT 1 FROM people WHERE login = :login', { login })).length) return login;
  }
}

async function personRow(s: Statements, id: string): Promise<PersonRow> {
  const [row] = await s.rows<PersonRow>('SELECT * FROM people WHERE id = :id FOR UPDATE', { id });
  if (!row) throw new Refusal(404, 'There is no such person');
  return row;
}

async function invitation(s: Statements, role: Role, person: string | null, by: string | null): Promise<InvitationAnswer> {
  const token = newToken();
  const expires = new Date(Date.now() + INVITATION_DAYS * 86_400_000);
  await s.change('INSERT INTO invitations (token_hash, role, person_id, created_by, expires_at) VALUES (:hash, :role, :person, :by, :expires)', {
    hash: tokenHash(token),
    role,
    person,
    by,
    expires,
  });
  return { token, expires: expires.toISOString() };
}
