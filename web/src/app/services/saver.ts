import { signal } from '@angular/core';
import { Subscription, timer } from 'rxjs';
import type { Design } from '@unirota/core/design';
import type { StoredDesign } from '@unirota/contract';
import { ApiService, ServerTrouble, newId } from './api.service';
import { drafts } from './drafts';

/** Where the work stands: on the server, on its way, kept here until the server is back, or in want of a decision. */
export type SaveState = 'saved' | 'waiting' | 'saving' | 'kept-here' | 'conflict' | 'refused' | 'not-kept';

const QUIET = 700;
const RETRY = [1000, 2000, 4000, 8000, 15_000];

/**
 * Saves a design after a moment of quiet. The draft is in the browser before anything is sent and is cleared only when the server has
 * confirmed it, so that a lost server, a closed page or a dead battery loses no edit.
 */
export class Saver {
  readonly state = signal<SaveState>('saved');
  readonly trouble = signal('');
  readonly conflict = signal<StoredDesign | undefined>(undefined);
  readonly savedAt = signal<string | undefined>(undefined);
  private pending?: Design;
  private sending?: Design;
  private saveId?: string;
  private failures = 0;
  private timer?: Subscription;
  private request?: Subscription;

  constructor(
    private readonly api: ApiService,
    readonly id: string,
    private base: number,
  ) {
    addEventListener('online', this.now);
  }

  readonly now = (): void => {
    this.timer?.unsubscribe();
    this.send();
  };

  /** Takes an edit: kept here at once, sent after a moment. */
  take(design: Design): void {
    this.pending = design;
    this.saveId = undefined;
    const kept = drafts.write(this.id, { design, base: this.base });
    if (this.state() === 'conflict') return;
    this.state.set(kept ? (this.failures ? 'kept-here' : 'waiting') : 'not-kept');
    this.schedule(this.failures ? RETRY[Math.min(this.failures, RETRY.length) - 1] : QUIET);
  }

  /** After a conflict: goes on from the server's revision with the work of this page, or gives way to the server's. */
  settle(choice: 'mine' | 'theirs', mine: Design): Design {
    const theirs = this.conflict()!;
    this.conflict.set(undefined);
    this.base = theirs.revision;
    if (choice === 'theirs') {
      this.pending = undefined;
      drafts.clear(this.id);
      this.state.set('saved');
      return theirs.design;
    }
    this.state.set('waiting');
    this.take(mine);
    return mine;
  }

  close(): void {
    removeEventListener('online', this.now);
    this.timer?.unsubscribe();
    // A last try without waiting for the answer: the draft stays until one comes.
    if (this.pending && !this.sending) this.send();
  }

  private schedule(ms: number): void {
    this.timer?.unsubscribe();
    this.timer = timer(ms).subscribe(() => this.send());
  }

  private send(): void {
    if (!this.pending || this.sending || this.conflict()) return;
    const design = this.pending;
    this.sending = design;
    this.saveId ??= newId();
    const save = this.saveId;
    drafts.write(this.id, { design, base: this.base, save });
    if (!this.failures) this.state.set('saving');
    this.request = this.api.save(this.id, { base: this.base, save, design }).subscribe({
      next: (answer) => {
        this.sending = undefined;
        this.failures = 0;
        this.base = answer.revision;
        this.savedAt.set(answer.savedAt);
        if (this.pending === design) {
          this.pending = undefined;
          this.saveId = undefined;
          drafts.clear(this.id);
          this.state.set('saved');
        } else if (this.pending) {
          drafts.write(this.id, { design: this.pending, base: this.base });
          this.state.set('waiting');
          this.schedule(QUIET);
        }
      },
      error: (e: unknown) => {
        this.sending = undefined;
        const t = e instanceof ServerTrouble ? e : new ServerTrouble('The server does not answer', 0);
        this.trouble.set(t.message);
        if (t.status === 409 && t.problem?.current) {
          this.conflict.set(t.problem.current);
          this.state.set('conflict');
        } else if (t.passing) {
          this.failures++;
          this.state.set('kept-here');
          this.schedule(RETRY[Math.min(this.failures, RETRY.length) - 1]);
        } else {
          this.state.set('refused');
          this.trouble.set([t.message, ...(t.problem?.problems ?? []).slice(0, 3).map((p) => `${p.path}: ${p.message}`)].join(' · '));
        }
      },
    });
  }

  /** A draft from an earlier visit that the server may or may not have received. */
  resume(design: Design, base: number, save: string | undefined): void {
    this.base = base;
    this.pending = design;
    this.saveId = save;
    this.state.set('waiting');
    this.schedule(0);
  }
}
