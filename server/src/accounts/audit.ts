import { createHash } from 'node:crypto';
import type { AuditLine } from '@unirota/contract';
import type { Database, Statements } from '../database/database';
import type { Person } from './person';

export type Action =
  | 'opened'
  | 'created'
  | 'saved'
  | 'kept beside'
  | 'named'
  | 'released'
  | 'remarked'
  | 'shared'
  | 'unshared'
  | 'took a link'
  | 'deleted'
  | 'restored'
  | 'copied'
  | 'shape stored'
  | 'opened revision'
  | 'signed in'
  | 'sign-in failed'
  | 'invitation revoked'
  | 'invited'
  | 'joined'
  | 'passphrase set'
  | 'account changed'
  | 'designs transferred'
  | 'session ended';

const HOUR = 3_600_000;
const KEPT_DAYS = 400;

/** Who did what. The same thing done again within an hour is one line that counts. */
export class Audit {
  constructor(private readonly database: Database) {}

  /** Within the transaction of what is done, where there is one. */
  async note(person: Pick<Person, 'id'>, action: Action, design: string | null = null, detail = '', within?: Statements): Promise<void> {
    const now = new Date();
    const id = createHash('md5')
      .update(JSON.stringify([person.id, action, design, detail, Math.floor(now.getTime() / HOUR)]))
      .digest();
    await (within ?? this.database).change(
      `INSERT INTO audit (id, person_id, action, design_id, detail, first_at, last_at) VALUES (:id, :person, :action, :design, :detail, :now, :now)
       ON DUPLICATE KEY UPDATE times = times + 1, last_at = :now`,
      { id, person: person.id, action, design, detail: detail.slice(0, 200), now },
    );
  }

  /** The newest lines: of one design, or of all. The names of designs are told to whom they are open. */
  async list(design: string | null, before: Date, me: string): Promise<AuditLine[]> {
    const rows = await this.database.read<{
      name: string | null;
      action: Action;
      design_id: string | null;
      design: string | null;
      detail: string;
      first_at: Date;
      last_at: Date;
      times: number;
    }>(
      `SELECT p.name, a.action, a.design_id, CASE WHEN d.owner_id = :me OR h.may IS NOT NULL OR d.demo = 1 THEN d.name END AS design, a.detail, a.first_at, a.last_at, a.times
         FROM audit a LEFT JOIN people p ON p.id = a.person_id LEFT JOIN designs d ON d.id = a.design_id
              LEFT JOIN shares h ON h.design_id = a.design_id AND h.person_id = :me
        WHERE a.last_at < :before ${design ? 'AND a.design_id = :design' : ''} ORDER BY a.last_at DESC LIMIT 200`,
      design ? { before, design, me } : { before, me },
    );
    return rows.map((r) => ({
      person: r.name ?? '',
      action: r.action,
      ...(r.design_id ? { design: { id: r.design_id, name: r.design ?? '' } } : {}),
      detail: r.detail,
      first: r.first_at.toISOString(),
      last: r.last_at.toISOString(),
      times: r.times,
    }));
  }

  async sweep(): Promise<void> {
    await this.database.change('DELETE FROM audit WHERE last_at < :old LIMIT 5000', { old: new Date(Date.now() - KEPT_DAYS * 24 * HOUR) });
  }
}
