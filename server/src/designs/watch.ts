import { randomUUID } from 'node:crypto';
import type { IncomingMessage } from 'node:http';
import type { Duplex } from 'node:stream';
import type { Logger } from 'pino';
import type { WebSocket } from 'ws';
import { type Present, WATCH_ENDED, type WatchSays, type WatchWord, watchSaysSchema } from '@unirota/contract';
import { LOCAL_ID, type Person } from '../accounts/person';
import type { Sessions } from '../accounts/sessions';
import type { Door } from '../accounts/upgrades';
import type { Database } from '../database/database';
import { Refusal } from '../refusal';
import { gone } from './rows';

/** How often the database is looked at for what other servers have changed, and whether the people may still look, ms. */
const LOOK_EVERY = 1000;
const ASK_EVERY = 5000;
/** A page of which its server has said nothing for so long is gone, ms. */
const LOST_AFTER = 16_000;
/** Sockets of one person, and of all. */
const MOST_OF_ONE = 40;
const MOST_AT_ONCE = 4000;
/** Messages that a page may send in a while, and how long that is, ms. */
const MOST_SAID = 30;
const SAID_WITHIN = 10_000;
/** Bytes that a socket may leave unread. */
const MOST_UNREAD = 256 * 1024;
/** Other pages that a page is told of. */
const MOST_TOLD = 50;

/** The designs that are watched here. */
const WANTED = `JSON_TABLE(:ids, '$[*]' COLUMNS (id CHAR(36) CHARACTER SET ascii COLLATE ascii_bin PATH '$')) w`;

interface Page {
  readonly id: string;
  readonly person: Person;
  readonly design: string;
  readonly socket: WebSocket;
  readonly token?: string;
  /** The demo is everybody's: who looks at it is nobody's business. */
  readonly hidden: boolean;
  step: string;
  /** What it was told last. */
  told: string;
  /** When it was last asked whether it is there, and whether it has answered. */
  pinged: number;
  alive: boolean;
  /** Messages since then. */
  said: number;
}
interface DesignState {
  readonly revision: number;
  readonly remarks: number;
}
interface PresenceRow {
  design_id: string;
  page_id: string;
  person_id: string;
  name: string | null;
  step: string;
}

export interface WatchOptions {
  readonly database: Database;
  readonly log: Logger;
  /** Where people sign in: the session that a request carries, and whether it lasts. */
  readonly session?: (req: IncomingMessage) => string | undefined;
  readonly sessions?: Sessions;
}

/**
 * Tells open pages what changes about their design: its revision, its remarks (by number: a page fetches them as everything
 * else), and who else has it open. Servers learn of each other by the database, which each asks once a second for all its pages
 * together; what is changed through this one is told at once.
 */
export class Watch implements Door {
  readonly path = /^\/api\/designs\/([0-9a-f-]{36})\/watch$/;
  readonly largest = 1024;
  private readonly server = randomUUID();
  private readonly pages = new Map<string, Page>();
  /** Whose socket each is; those that are being admitted count as well. */
  private readonly owners = new Map<Duplex, string>();
  private timer: NodeJS.Timeout | undefined;
  private looking = false;
  private again = false;
  private asked = 0;
  private ended = false;

  constructor(private readonly options: WatchOptions) {}

  async admit(person: Person, match: RegExpExecArray, req: IncomingMessage, from: Duplex): Promise<(socket: WebSocket) => void> {
    const own = [...this.owners.values()].filter((id) => id === person.id).length;
    if (this.owners.size >= MOST_AT_ONCE || own >= MOST_OF_ONE) throw new Refusal(503, 'Too many pages are open');
    this.owners.set(from, person.id);
    from.once('close', () => this.owners.delete(from));
    const design = match[1];
    const may = (await this.allowed([{ id: design, person: person.id }])).get(`${design} ${person.id}`);
    if (may === undefined) throw gone();
    const token = this.options.session?.(req);
    return (socket) => this.take({ person, design, socket, hidden: may === 'all', ...(token ? { token } : {}) });
  }

  private take(base: Pick<Page, 'person' | 'design' | 'socket' | 'token' | 'hidden'>): void {
    const page: Page = { ...base, id: randomUUID(), step: '', told: '', pinged: 0, alive: true, said: 0 };
    const { socket } = page;
    this.pages.set(page.id, page);
    socket.on('error', () => socket.terminate());
    socket.on('pong', () => (page.alive = true));
    socket.on('message', (data: Buffer) => this.hear(page, data));
    socket.once('close', () => {
      this.pages.delete(page.id);
      if (this.ended) return;
      this.quietly(this.options.database.change('DELETE FROM presence WHERE page_id = :id', { id: page.id }).then(() => this.changed(page.design)));
    });
    this.quietly(this.enter([page]).then(() => this.changed(page.design)));
    this.timer ??= setInterval(() => this.look(), LOOK_EVERY);
  }

  /** Writes down that pages are here, and at which step. What is not written again grows old, whatever was lost on the way. */
  private async enter(pages: readonly Page[]): Promise<void> {
    const rows = pages.filter((p) => !p.hidden).map((p) => ({ page: p.id, design: p.design, person: p.person.id, step: p.step }));
    if (!rows.length) return;
    await this.options.database.change(
      `INSERT INTO presence (page_id, design_id, person_id, server_id, step, seen_at)
       SELECT w.page, w.design, w.person, :server, w.step, :now
         FROM JSON_TABLE(:rows, '$[*]' COLUMNS (page CHAR(36) PATH '$.page', design CHAR(36) PATH '$.design', person CHAR(36) PATH '$.person',
                step VARCHAR(16) PATH '$.step')) w
       ON DUPLICATE KEY UPDATE step = VALUES(step), seen_at = VALUES(seen_at)`,
      { rows: JSON.stringify(rows), server: this.server, now: new Date() },
    );
  }

  /** A page says at which step of the work it is. */
  private hear(page: Page, data: Buffer): void {
    if (++page.said > MOST_SAID) return page.socket.terminate();
    let says: WatchSays;
    try {
      says = watchSaysSchema.validateSync(JSON.parse(data.toString('utf8')), { strict: true }) as WatchSays;
    } catch {
      return page.socket.terminate();
    }
    if (says.step === page.step) return;
    page.step = says.step;
    this.quietly(this.enter([page]).then(() => this.changed(page.design)));
  }

  /** Something about a design has changed here: its pages are told at once, if there are any. */
  changed(design: string): void {
    for (const p of this.pages.values()) if (p.design === design) return this.look();
  }

  /** Looks at the database once, for all pages; asked for meanwhile, once more after it. */
  private look(): void {
    if (this.ended) return;
    if (this.looking) {
      this.again = true;
      return;
    }
    if (!this.pages.size) {
      clearInterval(this.timer);
      this.timer = undefined;
      return;
    }
    this.looking = true;
    void this.lookNow()
      // While the database is away nobody is told anything; the pages stay.
      .catch((e: unknown) => this.options.log.debug({ err: e }, 'pages not told'))
      .finally(() => {
        this.looking = false;
        if (!this.again) return;
        this.again = false;
        this.look();
      });
  }

  private async lookNow(): Promise<void> {
    const { database } = this.options;
    const now = Date.now();
    if (now - this.asked >= ASK_EVERY) {
      this.asked = now;
      await this.ask(now);
    }
    const ids = JSON.stringify([...new Set([...this.pages.values()].map((p) => p.design))]);
    const designs = await database.read<{ id: string; revision: number; remarks: number | null }>(
      `SELECT d.id, d.revision, c.number AS remarks FROM ${WANTED} JOIN designs d ON d.id = w.id
         LEFT JOIN remark_changes c ON c.design_id = d.id WHERE d.deleted_at IS NULL`,
      { ids },
    );
    const here = await database.read<PresenceRow>(
      `SELECT h.design_id, h.page_id, h.person_id, p.name, h.step FROM ${WANTED} JOIN presence h ON h.design_id = w.id AND h.seen_at > :lost
         LEFT JOIN people p ON p.id = h.person_id ORDER BY h.page_id LIMIT 10000`,
      { ids, lost: new Date(now - LOST_AFTER) },
    );
    const states = new Map<string, DesignState>(designs.map((d) => [d.id, { ...d, remarks: d.remarks ?? 0 }]));
    const present = new Map<string, PresenceRow[]>();
    for (const h of here) {
      const others = present.get(h.design_id);
      if (others) others.push(h);
      else present.set(h.design_id, [h]);
    }
    for (const page of this.pages.values()) {
      const state = states.get(page.design);
      if (state) this.tell(page, state, present.get(page.design) ?? []);
      else page.socket.close(WATCH_ENDED.gone);
    }
  }

  private tell(page: Page, { revision, remarks }: DesignState, present: readonly PresenceRow[]): void {
    const { socket } = page;
    if (socket.readyState !== socket.OPEN) return;
    if (socket.bufferedAmount > MOST_UNREAD) return socket.terminate();
    const others = page.hidden ? [] : present.filter((h) => h.page_id !== page.id).slice(0, MOST_TOLD);
    const word: WatchWord = {
      revision,
      remarks,
      others: others.map((h): Present => ({
        page: h.page_id,
        person: h.name ?? '',
        step: h.step,
        ...(h.person_id === page.person.id ? { mine: true } : {}),
      })),
    };
    const text = JSON.stringify(word);
    if (text === page.told) return;
    page.told = text;
    socket.send(text);
  }

  /** Whether those at the pages may still look, and are still there; says that this server still has its pages. */
  private async ask(now: number): Promise<void> {
    const pages = [...this.pages.values()];
    const [may, sessions] = await Promise.all([
      this.allowed(pages.map((p) => ({ id: p.design, person: p.person.id }))),
      this.options.sessions?.lasting(pages.flatMap((p) => p.token ?? [])),
    ]);
    for (const p of pages) {
      if (sessions && !(p.token && sessions.has(p.token))) p.socket.close(WATCH_ENDED.signIn);
      else if (!may.has(`${p.design} ${p.person.id}`)) p.socket.close(WATCH_ENDED.gone);
      else if (!p.alive) p.socket.terminate();
      else if (now - p.pinged > SAID_WITHIN) {
        p.pinged = now;
        p.alive = false;
        p.said = 0;
        p.socket.ping();
      }
    }
    await this.enter(pages.filter((p) => this.pages.has(p.id)));
  }

  /** Of pairs of a design and a person, `design person`, those where the person may look; `all` where everybody may. */
  private async allowed(pairs: readonly { id: string; person: string }[]): Promise<ReadonlyMap<string, 'own' | 'all'>> {
    const rows = await this.options.database.read<{ id: string; person: string; own: number }>(
      `SELECT w.id, w.person, d.owner_id = w.person OR s.may IS NOT NULL AS own
         FROM JSON_TABLE(:pairs, '$[*]' COLUMNS (id CHAR(36) CHARACTER SET ascii COLLATE ascii_bin PATH '$.id',
                person CHAR(36) CHARACTER SET ascii COLLATE ascii_bin PATH '$.person')) w
         JOIN designs d ON d.id = w.id AND d.deleted_at IS NULL LEFT JOIN shares s ON s.design_id = d.id AND s.person_id = w.person
        WHERE d.owner_id = w.person OR s.may IS NOT NULL OR (d.demo = 1 AND d.owner_id = '${LOCAL_ID}')`,
      { pairs: JSON.stringify(pairs) },
    );
    return new Map(rows.map((r) => [`${r.id} ${r.person}`, r.own ? 'own' : 'all']));
  }

  /** Takes away pages of servers that ended without a word. */
  async sweep(): Promise<void> {
    await this.options.database.change('DELETE FROM presence WHERE seen_at < :lost LIMIT 5000', { lost: new Date(Date.now() - 4 * LOST_AFTER) });
  }

  private quietly(work: Promise<unknown>): void {
    work.catch((e: unknown) => this.options.log.debug({ err: e }, 'presence not written'));
  }

  end(): void {
    this.ended = true;
    clearInterval(this.timer);
    this.quietly(this.options.database.change('DELETE FROM presence WHERE server_id = :server', { server: this.server }));
  }
}
