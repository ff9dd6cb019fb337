import type { Statements } from '../database/database';
import { Refusal } from '../refusal';
import type { Context } from './rows';

/** Refuses one more design, or one that comes back, of a person who has as many as may be. */
export async function roomForDesign(c: Context, s: Pick<Statements, 'rows'>): Promise<void> {
  const most = c.quota?.designs;
  if (most === undefined) return;
  const [{ n }] = await s.rows<{ n: number }>('SELECT COUNT(*) AS n FROM designs WHERE owner_id = :me AND deleted_at IS NULL', { me: c.person.id });
  if (n >= most) throw new Refusal(413, `You have ${n} designs, as many as one person may have here: delete one first`);
}

/**
 * Refuses a revision where those of the designs of one owner take as much as may be; of a design, or of a new one of the
 * person.
 */
export async function roomForRevision(c: Context, s: Pick<Statements, 'rows'>, design?: string): Promise<void> {
  const most = c.quota?.bytes;
  if (most === undefined) return;
  const [{ size }] = await s.rows<{ size: string | number | null }>(
    `SELECT SUM(r.size) AS size FROM designs d JOIN revisions r ON r.design_id = d.id
      WHERE d.owner_id = COALESCE((SELECT owner_id FROM designs WHERE id = :design), :me)`,
    { design: design ?? null, me: c.person.id },
  );
  if (Number(size ?? 0) >= most) {
    const mib = Math.round(most / 1024 / 1024);
    throw new Refusal(
      413,
      `The designs of their owner take ${mib} MiB, as much as one person may have here: delete some, or ask whoever runs the server`,
    );
  }
}
