import type { SessionLine } from '@unirota/contract';
import type { Database, Statements } from '../database/database';
import type { Person } from './person';
import { newToken, tokenHash } from './token';

export interface SessionTimes {
  idleMinutes: number;
  hours: number;
}
export type SignedIn = Person & { login: string };
/** Being here is written down no more often than this, ms. */
const SEEN_EVERY = 60_000;

/** Sessions in the database: any server knows them, and they end for all at once. */
export class Sessions {
  constructor(
    private readonly database: Database,
    private readonly times: SessionTimes,
  ) {}

  /** `at`: the issuer at which the person signed in, and what it needs to sign them out again. */
  async begin(person: string, s: Pick<Statements, 'change'> = this.database, at?: { issuer: string; idToken: string }): Promise<string> {
    const token = newToken();
    const now = new Date();
    await s.change(
      'INSERT INTO sessions (token_hash, person_id, created_at, seen_at, issuer, id_token) VALUES (:hash, :person, :now, :now, :issuer, :idToken)',
      {
        hash: tokenHash(token),
        person,
        now,
        issuer: at?.issuer ?? null,
        idToken: at?.idToken ?? null,
      },
    );
    return token;
  }

  /** Whose session this is, while it lasts and the account is open. */
  async person(token: string): Promise<SignedIn | undefined> {
    const now = Date.now();
    const [row] = await this.database.read<SignedIn & { seen_at: Date }>(
      `SELECT p.id, p.login, p.name, p.role, s.seen_at FROM sessions s JOIN people p ON p.id = s.person_id AND p.disabled_at IS NULL
        WHERE s.token_hash = :hash AND s.seen_at > :idle AND s.created_at > :oldest`,
      { hash: tokenHash(token), ...this.limits(now) },
    );
    if (!row) return undefined;
    if (now - row.seen_at.getTime() > SEEN_EVERY) {
      await this.database.change('UPDATE sessions SET seen_at = :now WHERE token_hash = :hash', { now: new Date(now), hash: tokenHash(token) });
    }
    return { id: row.id, login: row.login, name: row.name, role: row.role };
  }

  /** Those of these tokens whose sessions last. Asking does not make them last longer. */
  async lasting(tokens: readonly string[]): Promise<ReadonlySet<string>> {
    const byHash = new Map(tokens.map((t) => [tokenHash(t).toString('hex'), t]));
    const rows = await this.database.read<{ hash: string }>(
      `SELECT LOWER(HEX(s.token_hash)) AS hash
         FROM JSON_TABLE(:hashes, '$[*]' COLUMNS (hash CHAR(64) CHARACTER SET ascii COLLATE ascii_bin PATH '$')) w
         JOIN sessions s ON s.token_hash = UNHEX(w.hash) JOIN people p ON p.id = s.person_id AND p.disabled_at IS NULL
        WHERE s.seen_at > :idle AND s.created_at > :oldest`,
      { hashes: JSON.stringify([...byHash.keys()]), ...this.limits(Date.now()) },
    );
    return new Set(rows.flatMap((r) => byHash.get(r.hash) ?? []));
  }

  /** Where the session was begun at an issuer: which, and what it needs to sign the person out. */
  async begunAt(token: string): Promise<{ issuer: string; idToken: string } | undefined> {
    const [row] = await this.database.read<{ issuer: string | null; id_token: string | null }>(
      'SELECT issuer, id_token FROM sessions WHERE token_hash = :hash',
      { hash: tokenHash(token) },
    );
    return row?.issuer && row.id_token ? { issuer: row.issuer, idToken: row.id_token } : undefined;
  }

  async end(token: string): Promise<void> {
    await this.database.change('DELETE FROM sessions WHERE token_hash = :hash', { hash: tokenHash(token) });
  }

  /** Where a person is signed in, the newest first. `token` is that of the session that asks. */
  async list(person: string, token: string | undefined): Promise<SessionLine[]> {
    const rows = await this.database.read<{ id: string; created_at: Date; seen_at: Date }>(
      `SELECT LOWER(HEX(token_hash)) AS id, created_at, seen_at FROM sessions
        WHERE person_id = :person AND seen_at > :idle AND created_at > :oldest ORDER BY created_at DESC LIMIT 100`,
      { person, ...this.limits(Date.now()) },
    );
    const present = token && tokenHash(token).toString('hex');
    return rows.map((r) => ({ id: r.id, begun: r.created_at.toISOString(), seen: r.seen_at.toISOString(), present: r.id === present }));
  }

  /** Ends one of a person's sessions, by what the list calls it. False where he has none of that name. */
  async endOne(person: string, id: string): Promise<boolean> {
    return (await this.database.change('DELETE FROM sessions WHERE person_id = :person AND token_hash = UNHEX(:id)', { person, id })) > 0;
  }

  async endAll(person: string, s: Pick<Statements, 'change'> = this.database): Promise<void> {
    await s.change('DELETE FROM sessions WHERE person_id = :person', { person });
  }

  async sweep(): Promise<void> {
    await this.database.change('DELETE FROM sessions WHERE seen_at < :idle OR created_at < :oldest', this.limits(Date.now()));
  }

  private limits(now: number): { idle: Date; oldest: Date } {
    return { idle: new Date(now - this.times.idleMinutes * 60_000), oldest: new Date(now - this.times.hours * 3_600_000) };
  }
}
