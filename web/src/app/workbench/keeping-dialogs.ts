import { Injectable, Injector, inject } from '@angular/core';
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

  async sharing(): Promise<void> {
    const { store } = this;
    const [dialog, { SharingDialog }] = await Promise.all([this.dialog(), import('../session/sharing-dialog')]);
    dialog.open(SharingDialog, { data: { id: store.id(), name: store.design().name }, width: '620px', maxWidth: '94vw' });
  }
}
