import { randomUUID } from 'node:crypto';
import type { LinkLine, NewLink, SharesAnswer } from '@unirota/contract';
import type { Database, Statements } from '../database/database';
import { gone } from './rows';
import { Refusal } from '../refusal';
import type { Audit } from '../accounts/audit';
import type { Person } from '../accounts/person';
import { newToken, tokenHash } from '../accounts/token';

/** Who else may look at a design, or edit it. Only the owner gives and takes. */
export class Sharing {
  constructor(
    private readonly database: Database,
    private readonly audit: Audit,
  ) {}

  async list(owner: Person, id: string): Promise<SharesAnswer> {
    const { database } = this;
    await owned({ rows: (sql, values) => database.read(sql, values) }, owner, id);
    const shares = await database.read<{ id: string; name: string; login: string; may: 'look' | 'edit' }>(
      'SELECT p.id, p.name, p.login, s.may FROM shares s JOIN people p ON p.id = s.person_id WHERE s.design_id = :id ORDER BY p.name, p.id',
      { id },
    );
    const links = await database.read<{ id: string; may: 'look' | 'edit'; expires_at: Date }>(
      'SELECT id, may, expires_at FROM links WHERE design_id = :id AND expires_at > :now ORDER BY created_at',
      { id, now: new Date() },
    );
    return {
      owner: { id: owner.id, name: owner.name },
      shares: shares.map((s) => ({ person: { id: s.id, name: s.name }, may: s.may })),
      links: links.map((l) => ({ id: l.id, may: l.may, expires: l.expires_at.toISOString() })),
    };
  }

  async give(owner: Person, id: string, person: string, may: 'look' | 'edit'): Promise<void> {
    await this.database.transaction(async (s) => {
      await owned(s, owner, id);
      if (person === owner.id) throw new Refusal(422, 'The design is yours already');
      const [p] = await s.rows<{ name: string }>('SELECT name FROM people WHERE id = :person AND disabled_at IS NULL', { person });
      if (!p) throw new Refusal(404, 'There is no such person');
      // What a link gives beside stays, where it is more.
      await s.change(
        `INSERT INTO shares (design_id, person_id, may, direct, link_id, created_at) VALUES (:id, :person, :may, :may, NULL, :now)
         ON DUPLICATE KEY UPDATE direct = :may, may = IF(link_id IS NOT NULL AND may = 'edit', may, :may)`,
        { id, person, may, now: new Date() },
      );
      await this.audit.note(owner, 'shared', id, `${p.name} may ${may}`, s);
    });
  }

  async take(owner: Person, id: string, person: string): Promise<void> {
    await this.database.transaction(async (s) => {
      await owned(s, owner, id);
      if (!(await s.change('DELETE FROM shares WHERE design_id = :id AND person_id = :person', { id, person }))) {
        throw new Refusal(404, 'The design is not shared with this person');
      }
      const [p] = await s.rows<{ name: string }>('SELECT name FROM people WHERE id = :person', { person });
      await this.audit.note(owner, 'unshared', id, p?.name ?? '', s);
    });
  }

  /** A link: whoever is signed in and has it may take the design up. */
  async makeLink(owner: Person, id: string, { may, days }: NewLink): Promise<LinkLine> {
    return this.database.transaction(async (s) => {
      await owned(s, owner, id);
      const token = newToken();
      const link = randomUUID();
      const now = new Date();
      const expires = new Date(now.getTime() + days * 86_400_000);
      await s.change('INSERT INTO links (id, design_id, token_hash, may, created_at, expires_at) VALUES (:link, :id, :hash, :may, :now, :expires)', {
        link,
        id,
        hash: tokenHash(token),
        may,
        now,
        expires,
      });
      await this.audit.note(owner, 'shared', id, `link to ${may}`, s);
      return { id: link, may, expires: expires.toISOString(), token };
    });
  }

  /** Ends a link, and what was had by it; what somebody was given directly stays. */
  async endLink(owner: Person, id: string, link: string): Promise<void> {
    await this.database.transaction(async (s) => {
      await owned(s, owner, id);
      if (!(await s.change('DELETE FROM links WHERE design_id = :id AND id = :link', { id, link }))) throw new Refusal(404, 'There is no such link');
      await s.change('DELETE FROM shares WHERE design_id = :id AND link_id = :link AND direct IS NULL', { id, link });
      await s.change('UPDATE shares SET may = direct, link_id = NULL WHERE design_id = :id AND link_id = :link', { id, link });
      await this.audit.note(owner, 'unshared', id, 'link', s);
    });
  }

  /** Takes up what a link gives; what a person has by more is not made less. Gives the design's id. */
  async takeLink(person: Person, token: string): Promise<string> {
    return this.database.transaction(async (s) => {
      const [l] = await s.rows<{ id: string; design_id: string; may: 'look' | 'edit'; owner_id: string; had: 'look' | 'edit' | null }>(
        `SELECT l.id, l.design_id, l.may, d.owner_id, h.may AS had FROM links l JOIN designs d ON d.id = l.design_id AND d.deleted_at IS NULL
          LEFT JOIN shares h ON h.design_id = d.id AND h.person_id = :me
          WHERE l.token_hash = :hash AND l.expires_at > :now`,
        { hash: tokenHash(token), now: new Date(), me: person.id },
      );
      if (!l) throw new Refusal(410, 'This link has ended: ask for a new one');
      if (l.owner_id !== person.id && l.had !== 'edit' && l.had !== l.may) {
        await share(s, l.design_id, person.id, l.may, l.id);
        await this.audit.note(person, 'took a link', l.design_id, `may ${l.may}`, s);
      }
      return l.design_id;
    });
  }
}

async function owned(s: Pick<Statements, 'rows'>, owner: Person, id: string): Promise<void> {
  const [d] = await s.rows<{ owner_id: string; seen: number }>(
    `SELECT d.owner_id, EXISTS (SELECT 1 FROM shares h WHERE h.design_id = d.id AND h.person_id = :me) AS seen FROM designs d WHERE d.id = :id AND d.deleted_at IS NULL`,
    { id, me: owner.id },
  );
  if (!d || (d.owner_id !== owner.id && !d.seen)) throw gone();
  if (d.owner_id !== owner.id) throw new Refusal(403, 'Only the owner shares a design');
}

async function share(s: Statements, id: string, person: string, may: string, link: string | null): Promise<void> {
  await s.change(
    `INSERT INTO shares (design_id, person_id, may, link_id, created_at) VALUES (:id, :person, :may, :link, :now)
     ON DUPLICATE KEY UPDATE may = :may, link_id = :link`,
    { id, person, may, link, now: new Date() },
  );
}
