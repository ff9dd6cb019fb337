import { Injectable, Injector, inject } from '@angular/core';
import type { Findable } from './find-dialog';
import { WorkbenchStore } from './workbench.store';

/** Opens the dialogs of keeping; each comes when it is asked for, with what it needs of Material. */
@Injectable()
export class KeepingDialogs {
  private readonly injector = inject(Injector);
  private readonly store = inject(WorkbenchStore);
  private choosing = false;

  private async dialog() {
    const { MatDialog } = await import('@angular/material/dialog');
    return this.injector.get(MatDialog);
  }

  async conflict(): Promise<void> {
    const { store } = this;
    const saver = store.saver();
    if (this.choosing || !saver?.conflict()) return;
    this.choosing = true;
    try {
      const [dialog, { ConflictDialog }] = await Promise.all([this.dialog(), import('../keeping/conflict-dialog')]);
      const data = { id: store.id(), saver, design: () => store.design() };
      dialog
        .open(ConflictDialog, { data, width: '700px', maxWidth: '94vw', autoFocus: 'dialog' })
        .afterClosed()
        .subscribe((choice) => {
          this.choosing = false;
          if (choice) store.settleConflict(choice.name, choice.design, choice.theirs);
        });
    } catch (e) {
      this.choosing = false;
      throw e;
    }
  }

  async history(): Promise<void> {
    const { store } = this;
    const [dialog, { HistoryDialog }] = await Promise.all([this.dialog(), import('../keeping/history-dialog')]);
    const data = { id: store.id(), design: store.design(), readOnly: store.readOnly() !== '' };
    dialog
      .open(HistoryDialog, { data, width: '700px', maxWidth: '94vw', autoFocus: 'dialog' })
      .afterClosed()
      .subscribe((choice) => {
        if (choice) store.said.set(store.edit(`Bring back revision ${choice.number}`, () => choice.restore) ?? `Revision ${choice.number} is back`);
      });
  }

  /** The keys, listed. */
  async keys(shortcuts: readonly (readonly [string, string])[]): Promise<void> {
    const [dialog, { KeysDialog }] = await Promise.all([this.dialog(), import('./keys-dialog')]);
    dialog.open(KeysDialog, { data: shortcuts, maxWidth: '94vw' });
  }

  /** The search is on its way: what is typed meanwhile is meant for it, not for the page. */
  finding = false;
  /** What has been typed for it already. */
  typed = '';
  /** Fetched once the page is at rest, so that the search is there at the press of its key. */
  prepare(): void {
    const idle = globalThis.requestIdleCallback as typeof requestIdleCallback | undefined;
    const fetch = (): void => void Promise.all([this.dialog(), import('./find-dialog'), import('./findables')]).catch(() => undefined);
    if (idle) idle(fetch, { timeout: 5000 });
    else setTimeout(fetch, 2000);
  }

  /** Finds every action, item and field by name, and does or shows it. */
  async find(more: readonly Findable[]): Promise<void> {
    if (this.finding) return;
    this.finding = true;
    this.typed = '';
    const [dialog, { FindDialog }, { findables }] = await Promise.all([this.dialog(), import('./find-dialog'), import('./findables')]);
    dialog
      .open(FindDialog, {
        data: { all: findables(this.store, more), typed: this.typed },
        width: '560px',
        maxWidth: '94vw',
        position: { top: '80px' },
        restoreFocus: false,
        autoFocus: false,
        ariaLabel: 'Find',
      })
      .afterClosed()
      .subscribe((f: Findable | undefined) => f?.act());
    this.finding = false;
  }

  async sharing(): Promise<void> {
    const { store } = this;
    const [dialog, { SharingDialog }] = await Promise.all([this.dialog(), import('../session/sharing-dialog')]);
    dialog.open(SharingDialog, { data: { id: store.id(), name: store.design().name }, width: '620px', maxWidth: '94vw' });
  }
}
