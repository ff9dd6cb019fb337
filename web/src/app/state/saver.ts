import { type WritableSignal, computed, signal } from '@angular/core';
import { Subscription, firstValueFrom, timer } from 'rxjs';
import type { Design } from '@unirota/core/document';
import { type ApiService, ServerTrouble, newId } from './api.service';
import type { Draft, Drafts, SentSave } from './drafts';

/** How it stands with the server. */
/** `offline`: opened from the copy kept here while the server is away, with nothing to send yet. */
export type ServerState = 'saved' | 'offline' | 'waiting' | 'saving' | 'away' | 'conflict' | 'refused' | 'deleted' | 'followed';
/** How it stands with this machine. */
export type HereState = 'clean' | 'writing' | 'kept' | 'full';

/** A conflict: this work is stored on the server beside the line before a person is asked. */
export interface Conflict {
  mine: Design;
  base: number;
  /** The number under which mine is kept there; undefined until it is. */
  aside?: number;
  /** Why it cannot be stored there. */
  trouble?: string;
  current: { revision: number; savedAt: string; person?: string };
}

const QUIET = 700;
/** How long a save waits for the draft to be on the disk, ms. */
const PATIENCE = 2000;
/** How long leaving the design waits for the server, ms. */
const FLUSH = 2000;
const RETRY = [1000, 2000, 4000, 8000, 15_000];

export interface SaverOptions {
  api: Pick<ApiService, 'save' | 'aside'>;
  drafts: Pick<Drafts, 'put' | 'clear' | 'lastResort'>;
  id: string;
  writer: string;
  base: number;
  /** Only one tab sends; the others hand their edits to it. */
  sends: () => boolean;
  /** It stands otherwise with the server. */
  changed?: () => void;
  /** The server has a document as its revision. */
  saved?: (document: Design, revision: number) => void;
}

/**
 * Keeps the work of one open design: on this machine at once, on the server after a moment
 * of quiet. A save that is not answered is sent again as it was before anything newer; a
 * draft goes when what it holds is confirmed. When it is closed it does nothing more.
 */
export class Saver {
  readonly server = signal<ServerState>('saved');
  readonly here = signal<HereState>('clean');
  readonly trouble = signal('');
  readonly conflict = signal<Conflict | undefined>(undefined);
  readonly savedAt = signal<string | undefined>(undefined);
  /** There is something that the server has not confirmed. */
  readonly unconfirmed = computed(() => this.server() !== 'saved' && this.server() !== 'offline');
  private pending?: { document: Design; version: number };
  private sent?: SentSave & { version: number };
  private readonly stood: WritableSignal<number>;
  private sending = false;
  private failures = 0;
  private timer?: Subscription;
  private request?: Subscription;
  private closed = false;
  private dirty = false;
  /** Work is being stored beside the line. */
  private storing = false;
  private writing?: Promise<void>;
  private version = 0;

  constructor(private readonly o: SaverOptions) {
    this.stood = signal(o.base);
    addEventListener('online', this.now);
  }

  /** The revision on which the work stands. */
  get base(): number {
    return this.stood();
  }
  set base(revision: number) {
    this.stood.set(revision);
  }

  /** Tries at once: the line is back, somebody has signed in, this tab has become the one that sends. */
  readonly now = (): void => {
    if (this.closed) return;
    this.timer?.unsubscribe();
    void this.send();
  };

  /** Takes an edit: kept here at once, sent after a moment. */
  take(document: Design, version: number): void {
    if (this.closed) return;
    this.pending = { document, version };
    this.version = Math.max(this.version, version);
    this.keep();
    if (this.conflict()) {
      this.conflict.update((c) => c && { ...c, mine: document, aside: undefined, trouble: undefined });
      void this.putAside();
    }
    if (['conflict', 'deleted'].includes(this.server())) return;
    if (!this.o.sends()) return this.stands('followed');
    if (!this.sending) this.stands(this.failures ? 'away' : 'waiting');
    this.schedule(this.failures ? RETRY[Math.min(this.failures, RETRY.length) - 1] : QUIET);
  }

  /** The server did not answer when the design was opened. */
  offline(): void {
    this.stands('offline');
  }
  /** The server is back and has this revision. False where there is work that is to be sent first. */
  online(revision: number): boolean {
    if (this.closed || this.server() !== 'offline') return false;
    this.base = revision;
    this.stands('saved');
    return true;
  }

  /** A draft of an earlier visit, which the server may or may not have received. */
  resume(draft: Draft): void {
    this.base = draft.base;
    this.version = draft.version;
    this.pending = { document: draft.document, version: draft.version };
    this.sent = draft.sent && { ...draft.sent, version: draft.version - (draft.sent.document === draft.document ? 0 : 1) };
    this.here.set('kept');
    this.stands('waiting');
    this.schedule(0);
  }

  /** The tab that sends has this edit in its own keeping: here it is needed no more. */
  handedOver(version: number): void {
    if (this.pending && this.pending.version <= version && !this.o.sends()) {
      this.pending = undefined;
      this.here.set('clean');
      void this.o.drafts.clear(this.o.id, this.o.writer, version).catch(() => undefined);
    }
  }

  /** The tab that sends says how it stands. */
  follow(state: ServerState, revision: number, savedAt?: string): void {
    if (this.closed || this.o.sends()) return;
    this.base = revision;
    if (savedAt) this.savedAt.set(savedAt);
    this.stands(state === 'saved' && this.pending ? 'followed' : state);
  }

  /**
   * After a conflict: goes on from the server's revision with what
   * was chosen, which is taken as an edit where it is not theirs.
   */
  settle(revision: number): void {
    this.base = revision;
    this.conflict.set(undefined);
    this.pending = undefined;
    this.sent = undefined;
    this.stands('saved');
    this.here.set('clean');
    void this.o.drafts.clear(this.o.id, this.o.writer, this.version).catch(() => undefined);
  }

  /** Sends at once and waits for the answer, but not long. */
  async flush(): Promise<void> {
    if (!this.unconfirmed() || this.closed || this.conflict()) return;
    const until = Date.now() + FLUSH;
    this.now();
    while (['waiting', 'saving'].includes(this.server()) && Date.now() < until) await firstValueFrom(timer(20));
  }

  /** Ends: what is kept here stays for the next visit. A save on its way may still arrive; its answer is waited for by nobody. */
  close(): void {
    if (!this.closed && this.here() === 'writing') {
      const draft = this.draft();
      if (draft) this.o.drafts.lastResort(draft);
    }
    this.closed = true;
    removeEventListener('online', this.now);
    this.timer?.unsubscribe();
  }

  /** Resolves when all edits so far are on the disk of this machine, or cannot be. */
  async settledHere(): Promise<void> {
    while (this.writing) await this.writing;
  }

  /** Writes the draft; edits that come while it is being written go together into the next writing. */
  private keep(): void {
    this.dirty = true;
    this.here.set(this.here() === 'full' ? 'full' : 'writing');
    this.writing ??= this.write().finally(() => (this.writing = undefined));
  }

  private async write(): Promise<void> {
    while (this.dirty) {
      this.dirty = false;
      const draft = this.draft();
      if (!draft) break;
      try {
        await this.o.drafts.put(draft);
        if (!this.dirty) this.here.set(this.pending || this.sent ? 'kept' : 'clean');
      } catch {
        // Full or blocked: said until a writing goes well; the server is then the only place.
        this.here.set('full');
      }
    }
  }

  /** What is to be kept now. */
  private draft(): Draft | undefined {
    const work = this.pending ?? this.sent;
    return (
      work && {
        design: this.o.id,
        writer: this.o.writer,
        version: work.version,
        base: this.base,
        document: work.document,
        ...(this.sent ? { sent: { save: this.sent.save, base: this.sent.base, document: this.sent.document } } : {}),
      }
    );
  }

  private stands(state: ServerState): void {
    this.server.set(state);
    this.o.changed?.();
  }

  private schedule(ms: number): void {
    this.timer?.unsubscribe();
    if (!this.closed) this.timer = timer(ms).subscribe(() => void this.send());
  }

  private async send(): Promise<void> {
    if (this.closed || this.sending || this.conflict() || !this.o.sends() || (!this.pending && !this.sent)) return;
    this.sending = true;
    // An unanswered one goes first, just as it was.
    if (!this.sent) {
      this.sent = { save: newId(), base: this.base, ...this.pending! };
      // Known here before it is sent, so that a killed page asks again with the same id.
      this.keep();
    }
    // A browser whose storage does not answer keeps nothing from the server.
    await Promise.race([this.settledHere(), firstValueFrom(timer(PATIENCE))]);
    const sent = this.sent;
    if (this.closed || !sent) {
      this.sending = false;
      return;
    }
    if (!this.failures) this.stands('saving');
    this.request = this.o.api.save(this.o.id, { base: sent.base, save: sent.save, design: sent.document }).subscribe({
      next: (answer) => this.answered(sent, answer.revision, answer.savedAt),
      error: (e: unknown) => this.failed(sent, e instanceof ServerTrouble ? e : new ServerTrouble($localize`The server does not answer`, 0)),
    });
  }

  private answered(sent: SentSave & { version: number }, revision: number, savedAt: string): void {
    this.sending = false;
    this.failures = 0;
    this.sent = undefined;
    this.base = revision;
    this.savedAt.set(savedAt);
    this.trouble.set('');
    this.o.saved?.(sent.document, revision);
    const done = !this.pending || this.pending.version <= sent.version;
    if (done) {
      this.pending = undefined;
      void this.o.drafts
        .clear(this.o.id, this.o.writer, sent.version)
        .then(() => !this.pending && this.here.set('clean'))
        .catch(() => undefined);
    } else this.keep();
    if (this.closed) return;
    this.stands(done ? 'saved' : 'waiting');
    if (!done) this.schedule(QUIET);
  }

  private failed(sent: SentSave, t: ServerTrouble): void {
    this.sending = false;
    if (this.closed) return;
    this.trouble.set(t.message);
    if (t.status === 409 && t.problem?.current) {
      this.stands('conflict');
      this.conflict.set({ mine: this.pending?.document ?? sent.document, base: sent.base, current: t.problem.current });
      void this.putAside();
    } else if (t.passing) {
      this.failures++;
      this.stands('away');
      this.schedule(Math.max(t.retryAfter * 1000, RETRY[Math.min(this.failures, RETRY.length) - 1]));
    } else if (t.status === 404) this.stands('deleted');
    else {
      this.sent = undefined;
      this.stands('refused');
      this.trouble.set([t.message, ...(t.problem?.problems ?? []).slice(0, 3).map((p) => `${p.path}: ${p.message}`)].join(' · '));
    }
  }

  /**
   * Stores this work on the server beside the line, again until it is there, and
   * again where it goes on meanwhile: whatever is chosen then, all of it is kept.
   */
  private async putAside(): Promise<void> {
    if (this.storing) return;
    this.storing = true;
    let save = newId();
    for (let failures = 0; !this.closed;) {
      const c = this.conflict();
      if (!c || c.aside !== undefined || c.trouble !== undefined) break;
      const still = (more: Partial<Conflict>): void => this.conflict.update((now) => (now?.mine === c.mine ? { ...now, ...more } : now));
      try {
        const { revision } = await firstValueFrom(this.o.api.aside(this.o.id, { base: c.base, save, design: c.mine }));
        still({ aside: revision });
        save = newId();
        failures = 0;
      } catch (e) {
        if (e instanceof ServerTrouble && !e.passing) still({ trouble: e.message });
        else await firstValueFrom(timer(RETRY[Math.min(failures++, RETRY.length - 1)]));
        if (this.conflict()?.mine !== c.mine) save = newId();
      }
    }
    this.storing = false;
  }
}
