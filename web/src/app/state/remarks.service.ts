import { Injectable, type OnDestroy, computed, effect, inject, signal, untracked } from '@angular/core';
import { firstValueFrom } from 'rxjs';
import type { Id } from '@unirota/core/document';
import { type Present, ROUTES, type RemarkLine, type RemarkSubject, type WatchSays, type WatchWord } from '@unirota/contract';
import { remember, remembered } from '../engine/browser-memory';
import { ApiService, newId } from './api.service';
import { DesignService } from './design.service';
import { RoomService } from './room.service';
import { SessionService } from './session.service';
import { ViewService } from './view.service';

/** A remark with the answers to it, the oldest first. */
export interface Thread {
  readonly head: RemarkLine;
  readonly answers: readonly RemarkLine[];
}

/** After how long a lost connection is tried again, ms: sooner at first. */
const AGAIN = [500, 1000, 2000, 4000, 8000, 15_000] as const;
/** After how long it is asked again where an answer failed, ms. */
const ASK_AGAIN = 4000;
/** Where the text of a new thread is kept while it is written. */
export const NEW = 'new';

/** Items that a remark is about. */
export function itemsOf(subject: RemarkSubject | undefined): readonly Id[] {
  if (subject?.kind === 'item') return [subject.item];
  if (subject?.kind === 'finding') return subject.items;
  return subject?.kind === 'place' ? [subject.member] : [];
}

/**
 * Remarks on the open design and the other pages that have it open: told by the server as they change. After a lost
 * connection the page asks for what it has missed. What is being written stays until it is stored.
 */
@Injectable()
export class RemarksService implements OnDestroy {
  private readonly api = inject(ApiService);
  private readonly doc = inject(DesignService);
  private readonly view = inject(ViewService);
  private readonly room = inject(RoomService);
  private readonly session = inject(SessionService);
  private readonly lines = signal<ReadonlyMap<string, RemarkLine>>(new Map());
  /** How often the remarks had changed when they were last asked for; undefined until they are here. */
  private readonly change = signal<number | undefined>(undefined);
  /** Other pages that have the design open. */
  readonly others = signal<readonly Present[]>([]);
  /** The newest revision on the server. */
  readonly revision = signal<number | undefined>(undefined);
  /** Why remarks are not here, or were not stored; nothing where empty. */
  readonly trouble = signal('');
  /** Texts that are being written, by thread. */
  readonly drafts = signal<ReadonlyMap<string, string>>(new Map());
  /** What the next new remark is about. */
  readonly about = signal<RemarkSubject>({ kind: 'design' });

  readonly threads = computed<readonly Thread[]>(() => {
    const all = [...this.lines().values()].sort((a, b) => a.made.localeCompare(b.made) || a.change - b.change);
    const threads = new Map<string, { head: RemarkLine; answers: RemarkLine[] }>();
    for (const r of all) if (r.answers === undefined) threads.set(r.id, { head: r, answers: [] });
    for (const r of all) if (r.answers !== undefined && !r.deleted) threads.get(r.answers)?.answers.push(r);
    // Of a deleted remark its answers stay.
    return [...threads.values()].filter((t) => !t.head.deleted || t.answers.length > 0);
  });
  readonly open = computed(() => this.threads().filter((t) => !t.head.resolved));
  /** How many are open; undefined while they are not here. */
  readonly openCount = computed(() => (this.change() === undefined ? undefined : this.open().length));
  /** How many open remarks are about each item. */
  readonly openOf = computed(() => {
    const count = new Map<Id, number>();
    for (const { head } of this.open()) for (const id of itemsOf(head.subject)) count.set(id, (count.get(id) ?? 0) + 1);
    return count;
  });

  private socket: WebSocket | undefined;
  private timer: ReturnType<typeof setTimeout> | undefined;
  private tries = 0;
  private again: ReturnType<typeof setTimeout> | undefined;
  private asking = false;
  private wanted = 0;

  constructor() {
    effect(() => {
      const id = this.doc.id();
      const opened = this.doc.opened();
      untracked(() => this.begin(opened ? id : ''));
    });
    effect(() => this.say({ step: this.view.step() }));
  }

  ngOnDestroy(): void {
    this.end();
  }

  private design = '';
  private begin(id: string): void {
    if (id === this.design) return;
    this.end();
    this.design = id;
    this.wanted = 0;
    this.lines.set(new Map());
    this.change.set(undefined);
    this.others.set([]);
    this.revision.set(undefined);
    this.trouble.set('');
    this.drafts.set(id ? this.kept() : new Map());
    this.about.set({ kind: 'design' });
    if (id) this.connect();
  }
  private end(): void {
    clearTimeout(this.timer);
    clearTimeout(this.again);
    const s = this.socket;
    this.socket = undefined;
    s?.close();
  }

  private connect(): void {
    const socket = new WebSocket(`${location.origin.replace(/^http/, 'ws')}${ROUTES.watch(this.design)}`);
    this.socket = socket;
    socket.onmessage = (e: MessageEvent<string>): void => {
      if (this.socket !== socket) return;
      if (this.tries) this.say({ step: this.view.step() });
      this.tries = 0;
      const word = JSON.parse(e.data) as WatchWord;
      this.others.set(word.others);
      this.revision.set(word.revision);
      this.wanted = word.remarks;
      void this.ask();
    };
    socket.onopen = (): void => this.say({ step: this.view.step() });
    socket.onclose = (): void => {
      if (this.socket !== socket) return;
      this.others.set([]);
      const wait = AGAIN[Math.min(this.tries++, AGAIN.length - 1)];
      this.timer = setTimeout(() => this.connect(), wait * (0.75 + Math.random() / 2));
    };
  }
  private say(says: WatchSays): void {
    if (this.socket?.readyState === WebSocket.OPEN) this.socket.send(JSON.stringify(says));
  }

  /** Asks for what has changed since it was asked last. */
  private async ask(): Promise<void> {
    const id = this.design;
    const [had, wanted] = [this.change() ?? -1, this.wanted];
    if (!id || this.asking || had >= wanted) return;
    this.asking = true;
    try {
      for (let more = true; more && id === this.design;) {
        const answer = await firstValueFrom(this.api.remarks(id, this.change() ?? 0));
        if (id !== this.design) return;
        this.take(answer.remarks);
        this.change.set(answer.change);
        more = answer.more === true;
      }
      this.trouble.set('');
    } catch (e) {
      this.trouble.set((e as Error).message);
    } finally {
      this.asking = false;
    }
    if (this.trouble()) this.again = setTimeout(() => void this.ask(), ASK_AGAIN);
    // Told of more meanwhile, or another design.
    else if (id !== this.design || this.wanted > wanted) void this.ask();
  }
  private take(list: readonly RemarkLine[]): void {
    if (!list.length) return;
    this.lines.update((m) => {
      const next = new Map(m);
      for (const r of list) if ((next.get(r.id)?.change ?? -1) <= r.change) next.set(r.id, r);
      return next;
    });
  }

  write(thread: string, text: string): void {
    this.drafts.update((m) => new Map(m).set(thread, text));
    const unsent = [...this.drafts()].filter(([, t]) => t.trim());
    remember(this.key(), unsent.length ? JSON.stringify(unsent) : '');
  }
  /** Under what this browser keeps what is not sent: of this person and this design. */
  private key(): string {
    return `unirota.remarks.${this.session.owner()}.${this.design}`;
  }
  private kept(): ReadonlyMap<string, string> {
    const text = remembered(this.key());
    try {
      return new Map(text ? (JSON.parse(text) as [string, string][]) : []);
    } catch {
      return new Map();
    }
  }
  /** The id under which what is being written will be stored, so that it is stored once however often it is sent. */
  private readonly ids = new Map<string, string>();
  /** Stores what was written for a thread; true where it is there. */
  async send(thread: string): Promise<boolean> {
    const text = (this.drafts().get(thread) ?? '').trim();
    if (!text) return false;
    const key = JSON.stringify([this.design, thread, text, thread === NEW ? this.about() : undefined]);
    const id = this.ids.get(key) ?? newId();
    this.ids.set(key, id);
    const line = await this.stored(
      this.api.addRemark(this.design, { id, text, ...(thread === NEW ? { subject: this.about() } : { answers: thread }) }),
    );
    if (!line) return false;
    this.ids.delete(key);
    if ((this.drafts().get(thread) ?? '').trim() === text) this.write(thread, '');
    return true;
  }
  async rewrite(remark: string, text: string): Promise<boolean> {
    return (await this.stored(this.api.changeRemark(this.design, remark, text))) !== undefined;
  }
  async resolve(remark: string, resolved: boolean): Promise<void> {
    await this.stored(this.api.resolveRemark(this.design, remark, resolved));
  }
  async remove(remark: string): Promise<void> {
    try {
      await firstValueFrom(this.api.removeRemark(this.design, remark));
      const had = this.lines().get(remark);
      if (had) this.take([{ ...had, text: '', deleted: true }]);
      this.trouble.set('');
    } catch (e) {
      this.trouble.set((e as Error).message);
    }
  }
  private async stored(request: ReturnType<ApiService['addRemark']>): Promise<RemarkLine | undefined> {
    try {
      const line = await firstValueFrom(request);
      this.take([line]);
      this.trouble.set('');
      return line;
    } catch (e) {
      this.trouble.set((e as Error).message);
      return undefined;
    }
  }

  /** Opens the panel for a remark about something. */
  begins(subject: RemarkSubject): void {
    this.about.set(subject);
    this.room.remarks.set(true);
  }
}
