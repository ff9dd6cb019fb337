import { Injectable, computed, inject, signal } from '@angular/core';
import { takeUntilDestroyed } from '@angular/core/rxjs-interop';
import { Observable, map, switchMap, tap } from 'rxjs';
import type { Design } from '@unirota/core/document';
import type { StoredDesign } from '@unirota/contract';
import { ApiService, type ServerTrouble, newId } from './api.service';
import type { Found } from './drafts';
import { SessionService } from './session.service';
import { Keeper } from './keeper';
import { DesignService } from './design.service';

/**
 * Opens designs and keeps what is done to them: drafts on this machine, saving, what other tabs do, and what comes of a conflict.
 */
@Injectable()
export class AutosaveService {
  private readonly api = inject(ApiService);
  private readonly session = inject(SessionService);
  private readonly doc = inject(DesignService);
  /** Keeps the open design; none while an old revision is looked at. */
  readonly keeper = signal<Keeper | undefined>(undefined);
  readonly saver = computed(() => this.keeper()?.saver);
  /** Work kept on this machine that cannot be read any more: to be taken away as it is. */
  readonly damaged = signal<Found['damaged']>([]);

  constructor() {
    this.doc.edited.pipe(takeUntilDestroyed()).subscribe(({ design }) => this.keeper()?.edited(design));
  }

  /** Opens a design, with what is kept of it on this machine; or, with a number, one of its revisions to be looked at. */
  open(id: string, revision?: number): void {
    this.close();
    this.doc.begin(id, revision);
    this.damaged.set([]);
    if (revision !== undefined) {
      this.api
        .revision(id, revision)
        .subscribe({ next: (stored) => this.doc.show(stored.design, 'revision'), error: (e: Error) => this.doc.failure.set(e.message) });
      return;
    }
    const keeper = new Keeper({ api: this.api, id, owner: this.session.owner(), changed: (d) => this.doc.adopt(d) });
    this.keeper.set(keeper);
    keeper.open().then(
      ({ design, may, damaged }) => {
        if (this.keeper() !== keeper) return;
        this.damaged.set(damaged);
        this.doc.may.set(may);
        this.doc.show(design, may === 'look' ? 'shared' : '');
      },
      (e: ServerTrouble) => this.keeper() === keeper && this.doc.failure.set(e.message),
    );
  }
  close(): void {
    this.doc.ended.next();
    this.keeper()?.close();
    this.keeper.set(undefined);
  }
  /** Before the design is left for another page of ours: what has just been done goes to the server first, if that answers. */
  async leave(): Promise<void> {
    await this.saver()?.flush();
  }

  /** The state that stands here as a design of its own; gives its id. What was kept of it here goes: it is on the server. */
  saveAsNew(): Observable<string> {
    const design = this.doc.design();
    return this.api.create({ ...design, name: `${design.name.slice(0, 110)} (copy)` }).pipe(
      tap(() => this.keeper()?.abandon()),
      map((s) => s.id),
    );
  }
  /** A design that was deleted elsewhere comes back, with what stands here. */
  bringBack(): void {
    this.api.restore(this.doc.id()).subscribe({ next: () => this.saver()?.now(), error: (e: Error) => this.doc.said.set(e.message) });
  }
  /** The revision that is looked at becomes the newest. */
  bringBackRevision(): Observable<unknown> {
    const id = this.doc.id();
    return this.api.read(id).pipe(switchMap((now) => this.api.save(id, { base: now.revision, save: newId(), design: this.doc.design() })));
  }
  /** Puts a draft away that cannot be read. */
  forget(writer: string): void {
    void this.keeper()
      ?.forget(writer)
      .then(() => this.damaged.update((l) => l.filter((d) => d.writer !== writer)));
  }
  /** After a conflict a person has chosen what goes on. What was not chosen is kept beside the history. */
  settleConflict(after: Design, theirs: StoredDesign): void {
    this.doc.adopt(after);
    this.keeper()?.settle(after, theirs);
  }
}
