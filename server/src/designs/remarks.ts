import { LOCAL_ID } from '../accounts/person';
import { MOST_REMARKS, type NewRemark, REMARKS_PAGE, type RemarkLine, type RemarkSubject, type RemarksAnswer } from '@unirota/contract';
import type { Statements } from '../database/database';
import { Refusal } from '../refusal';
import { type Context, MAY, SEEN, gone, mayOf, note } from './rows';

interface RemarkRow {
  id: string;
  change_number: number;
  person_id: string;
  person: string | null;
  answers: string | null;
  subject: string | null;
  body: string;
  made_at: Date;
  edited_at: Date | null;
  resolved_at: Date | null;
  resolver: string | null;
  deleted_at: Date | null;
}
const ROWS = `SELECT r.id, r.change_number, r.person_id, p.name AS person, r.answers, r.subject, r.body, r.made_at, r.edited_at, r.resolved_at,
    q.name AS resolver, r.deleted_at
  FROM remarks r LEFT JOIN people p ON p.id = r.person_id LEFT JOIN people q ON q.id = r.resolved_by`;

const lineOf = (r: RemarkRow, me: string): RemarkLine => ({
  id: r.id,
  change: r.change_number,
  person: r.person ?? '',
  ...(r.person_id === me ? { mine: true } : {}),
  ...(r.subject === null ? {} : { subject: JSON.parse(r.subject) as RemarkSubject }),
  ...(r.answers === null ? {} : { answers: r.answers }),
  text: r.body,
  made: r.made_at.toISOString(),
  ...(r.edited_at ? { edited: r.edited_at.toISOString() } : {}),
  ...(r.resolved_at ? { resolved: { person: r.resolver ?? '', at: r.resolved_at.toISOString() } } : {}),
  ...(r.deleted_at ? { deleted: true } : {}),
});

const unknown = (): Refusal => new Refusal(404, 'This remark does not exist or has been deleted');

/** What has changed of a design's remarks since change `since`, the oldest first, for whoever may look at the design. */
export async function remarks(c: Context, id: string, since: number): Promise<RemarksAnswer> {
  await mayOf(c, id);
  // Before the rows: what is counted by then is seen in them.
  const [now] = await c.database.read<{ number: number }>('SELECT number FROM remark_changes WHERE design_id = :id', { id });
  const rows = await c.database.read<RemarkRow>(
    `${ROWS} WHERE r.design_id = :id AND r.change_number > :since ORDER BY r.change_number LIMIT ${REMARKS_PAGE + 1}`,
    { id, since },
  );
  const page = rows.slice(0, REMARKS_PAGE);
  return {
    // Changes that left no line as they made it are counted too: a page that is told of one need not ask again.
    change: Math.max(page.at(-1)?.change_number ?? since, rows.length > page.length ? 0 : (now?.number ?? 0)),
    remarks: page.map((r) => lineOf(r, c.person.id)),
    ...(rows.length > page.length ? { more: true } : {}),
  };
}

/**
 * What the person may do with a design on which they would remark: a reviewer needs no more than to look. What is everybody's
 * (the demo) is not remarked on where people sign in: they do not know each other.
 */
async function reviewing(c: Context, s: Pick<Statements, 'rows'>, id: string): Promise<'look' | 'edit' | 'own'> {
  const [row] = await s.rows<{ may: 'look' | 'edit' | 'own'; open: number }>(
    `SELECT ${MAY}, d.owner_id = '${LOCAL_ID}' AND d.owner_id <> :me AND s.may IS NULL AS open FROM ${SEEN} WHERE d.id = :id AND d.deleted_at IS NULL`,
    { me: c.person.id, id },
  );
  if (!row) throw gone();
  if (row.open) throw new Refusal(403, 'This design is open to everybody: duplicate it to remark on it');
  return row.may;
}

/** The number of the next change; the row stays locked until it is confirmed, so that they are confirmed in their order. */
async function nextChange(s: Statements, id: string): Promise<number> {
  await s.change('INSERT INTO remark_changes (design_id, number) VALUES (:id, 1) ON DUPLICATE KEY UPDATE number = number + 1', { id });
  const [{ number }] = await s.rows<{ number: number }>('SELECT number FROM remark_changes WHERE design_id = :id', { id });
  return number;
}

async function rowOf(s: Pick<Statements, 'rows'>, id: string, remark: string): Promise<RemarkRow> {
  const [row] = await s.rows<RemarkRow>(`${ROWS} WHERE r.design_id = :id AND r.id = :remark`, { id, remark });
  if (!row) throw unknown();
  return row;
}

/** A new remark, or an answer to one. The same request again gives what it made. */
export async function addRemark(c: Context, id: string, { id: remark, text, subject, answers }: NewRemark): Promise<RemarkLine> {
  const me = c.person.id;
  return c.database.transaction(async (s) => {
    await reviewing(c, s, id);
    const number = await nextChange(s, id);
    const [had] = await s.rows<{ design_id: string; person_id: string }>('SELECT design_id, person_id FROM remarks WHERE id = :remark', { remark });
    if (had) {
      if (had.design_id !== id || had.person_id !== me) throw new Refusal(409, 'There is another remark with this id');
      return lineOf(await rowOf(s, id, remark), me);
    }
    if (answers !== undefined) {
      const head = await rowOf(s, id, answers);
      if (head.answers !== null) throw new Refusal(422, 'An answer is given to the first remark of its thread');
      if (head.deleted_at) throw unknown();
    }
    const [{ n }] = await s.rows<{ n: number }>('SELECT COUNT(*) AS n FROM remarks WHERE design_id = :id', { id });
    if (n >= MOST_REMARKS) throw new Refusal(409, `A design has at most ${MOST_REMARKS} remarks`);
    await s.change(
      `INSERT INTO remarks (id, design_id, change_number, person_id, answers, subject, body, made_at)
       VALUES (:remark, :id, :number, :me, :answers, :subject, :text, :now)`,
      {
        remark,
        id,
        number,
        me,
        answers: answers ?? null,
        subject: subject === undefined ? null : JSON.stringify(subject),
        text: text.trim(),
        now: new Date(),
      },
    );
    await note(c, 'remarked', id, '', s);
    return lineOf(await rowOf(s, id, remark), me);
  });
}

/** Changes the text of one's own remark. */
export async function changeRemark(c: Context, id: string, remark: string, text: string): Promise<RemarkLine> {
  return c.database.transaction(async (s) => {
    await reviewing(c, s, id);
    const number = await nextChange(s, id);
    const row = await rowOf(s, id, remark);
    if (row.deleted_at) throw unknown();
    if (row.person_id !== c.person.id) throw new Refusal(403, 'Only who made a remark changes its text');
    await s.change('UPDATE remarks SET body = :text, edited_at = :now, change_number = :number WHERE id = :remark', {
      text: text.trim(),
      now: new Date(),
      number,
      remark,
    });
    return lineOf(await rowOf(s, id, remark), c.person.id);
  });
}

/** Resolves a thread, or opens it again: who began it, and whoever may edit the design. */
export async function resolveRemark(c: Context, id: string, remark: string, resolved: boolean): Promise<RemarkLine> {
  return c.database.transaction(async (s) => {
    const may = await reviewing(c, s, id);
    const number = await nextChange(s, id);
    const row = await rowOf(s, id, remark);
    if (row.answers !== null) throw new Refusal(422, 'A thread is resolved at its first remark');
    if (may === 'look' && row.person_id !== c.person.id) throw new Refusal(403, 'Who may only look resolves their own remarks');
    if ((row.resolved_at !== null) !== resolved) {
      await s.change('UPDATE remarks SET resolved_at = :now, resolved_by = :me, change_number = :number WHERE id = :remark', {
        now: resolved ? new Date() : null,
        me: resolved ? c.person.id : null,
        number,
        remark,
      });
    }
    return lineOf(await rowOf(s, id, remark), c.person.id);
  });
}

/** Takes the text of a remark away: one's own, or any as the design's owner. Answers to it stay. */
export async function removeRemark(c: Context, id: string, remark: string): Promise<void> {
  await c.database.transaction(async (s) => {
    const may = await reviewing(c, s, id);
    const number = await nextChange(s, id);
    const row = await rowOf(s, id, remark);
    if (row.deleted_at) return;
    if (row.person_id !== c.person.id && may !== 'own') throw new Refusal(403, 'Only who made a remark, or the owner, deletes it');
    await s.change("UPDATE remarks SET body = '', deleted_at = :now, change_number = :number WHERE id = :remark", {
      now: new Date(),
      number,
      remark,
    });
  });
}

/** How many threads of a design are neither resolved nor deleted. */
export async function openRemarks(c: Context, id: string): Promise<number> {
  const [{ n }] = await c.database.read<{ n: number }>(
    `SELECT COUNT(*) AS n FROM remarks r WHERE r.design_id = :id AND r.answers IS NULL AND r.resolved_at IS NULL AND (r.deleted_at IS NULL
        OR EXISTS (SELECT 1 FROM remarks a WHERE a.answers = r.id AND a.deleted_at IS NULL))`,
    { id },
  );
  return n;
}
