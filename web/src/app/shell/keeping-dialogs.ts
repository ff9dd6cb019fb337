import { Injectable, Injector, inject } from '@angular/core';
import type { Searchable } from './find-dialog';
import { DesignService } from '../state/design.service';
import { AutosaveService } from '../state/autosave.service';
import { CommandsService, type Deletion, type ImportRequest, type PieceRequest } from '../state/commands.service';
import { ShapesService } from '../state/shapes.service';
import type { Command } from './command-table';
import { RoomService } from '../state/room.service';
import { SelectionService } from '../state/selection.service';

/** Opens the dialogs of keeping; each comes when it is asked for, with what it needs of Material. */
@Injectable()
export class KeepingDialogs {
  private readonly injector = inject(Injector);
  private readonly doc = inject(DesignService);
  private readonly autosave = inject(AutosaveService);
  private choosing = false;

  private async dialog() {
    const { MatDialog } = await import('@angular/material/dialog');
    return this.injector.get(MatDialog);
  }

  async conflict(): Promise<void> {
    const saver = this.autosave.saver();
    if (this.choosing || !saver?.conflict()) return;
    this.choosing = true;
    try {
      const [dialog, { ConflictDialog }] = await Promise.all([this.dialog(), import('../features/keeping/conflict-dialog')]);
      const data = { id: this.doc.id(), saver, design: () => this.doc.design() };
      dialog
        .open(ConflictDialog, { data, width: '700px', maxWidth: '94vw', autoFocus: 'dialog' })
        .afterClosed()
        .subscribe((choice) => {
          this.choosing = false;
          if (choice) this.autosave.settleConflict(choice.design, choice.theirs);
        });
    } catch (e) {
      this.choosing = false;
      throw e;
    }
  }

  async history(): Promise<void> {
    const [dialog, { HistoryDialog }] = await Promise.all([this.dialog(), import('../features/keeping/history-dialog')]);
    const data = { id: this.doc.id(), design: this.doc.design(), readOnly: this.doc.readOnly() !== '' };
    dialog
      .open(HistoryDialog, { data, width: '700px', maxWidth: '94vw', autoFocus: 'dialog' })
      .afterClosed()
      .subscribe((choice) => {
        if (choice) {
          this.doc.said.set(
            this.doc.edit($localize`Restore revision ${choice.number}`, () => choice.restore) ?? $localize`Revision ${choice.number} is back`,
          );
        }
      });
  }

  /** Asks before a deletion that takes more with it. */
  async deletion(asked: Deletion): Promise<void> {
    const [dialog, { DeleteDialog }] = await Promise.all([this.dialog(), import('./delete-dialog')]);
    dialog
      .open(DeleteDialog, { data: asked, width: '460px', maxWidth: '94vw' })
      .afterClosed()
      .subscribe((yes) => yes && asked.go());
  }

  /** Export of solids and cutting profiles. */
  async geometry(): Promise<void> {
    const [dialog, { GeometryDialog, GEOMETRY_DIALOG }] = await Promise.all([this.dialog(), import('../features/steps/geometry-dialog')]);
    dialog.open(GeometryDialog, { ...GEOMETRY_DIALOG, injector: this.injector });
  }

  /** The shelf of pieces. */
  async shelf(): Promise<void> {
    const [dialog, { ShelfDialog, SHELF_DIALOG }] = await Promise.all([this.dialog(), import('../features/steps/shelf-dialog')]);
    dialog.open(ShelfDialog, { ...SHELF_DIALOG, injector: this.injector });
  }
  /** The search for trains. */
  async vibration(): Promise<void> {
    const [dialog, { VibrationDialog, VIBRATION_DIALOG }] = await Promise.all([this.dialog(), import('../features/steps/vibration-dialog')]);
    dialog.open(VibrationDialog, { ...VIBRATION_DIALOG, injector: this.injector });
  }
  async planner(): Promise<void> {
    const [dialog, { PlannerDialog, PLANNER_DIALOG }] = await Promise.all([this.dialog(), import('../features/steps/planner-dialog')]);
    dialog.open(PlannerDialog, { ...PLANNER_DIALOG, injector: this.injector });
  }
  /** Variants side by side. */
  async variants(): Promise<void> {
    const [dialog, { VariantsDialog, VARIANTS_DIALOG }] = await Promise.all([this.dialog(), import('../features/steps/variants-dialog')]);
    dialog.open(VariantsDialog, { ...VARIANTS_DIALOG, injector: this.injector });
  }
  /** A piece whose connections are asked for. */
  private async piece(data: PieceRequest): Promise<void> {
    const [dialog, { PieceDialog, PIECE_DIALOG }] = await Promise.all([this.dialog(), import('../features/steps/piece-dialog')]);
    dialog.open(PieceDialog, { ...PIECE_DIALOG, data, injector: this.injector });
  }

  /** The report as PDF. */
  async report(): Promise<void> {
    const [dialog, { ReportDialog, REPORT_DIALOG }] = await Promise.all([this.dialog(), import('../features/steps/report-dialog')]);
    dialog.open(ReportDialog, { ...REPORT_DIALOG, injector: this.injector });
  }

  /** Import of parts. */
  private async parts(data: ImportRequest): Promise<void> {
    const [dialog, { ImportDialog, IMPORT_DIALOG }] = await Promise.all([this.dialog(), import('../features/shapes/import-dialog')]);
    dialog
      .open(ImportDialog, { ...IMPORT_DIALOG, data, injector: this.injector, autoFocus: 'dialog' })
      .afterClosed()
      .subscribe(() => this.injector.get(ShapesService).end());
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
    this.injector.get(CommandsService).asked.subscribe((d) => void this.deletion(d));
    this.injector.get(CommandsService).pieces.subscribe((p) => void this.piece(p));
    this.injector.get(CommandsService).imports.subscribe((r) => void this.parts(r));
    const idle = globalThis.requestIdleCallback as typeof requestIdleCallback | undefined;
    const fetch = (): void => void Promise.all([this.dialog(), import('./find-dialog'), import('./search-index')]).catch(() => undefined);
    if (idle) idle(fetch, { timeout: 5000 });
    else setTimeout(fetch, 2000);
  }

  /** Finds every action, item and field by name, and does or shows it. */
  async find(table: readonly Command[], more: readonly Searchable[]): Promise<void> {
    if (this.finding) return;
    this.finding = true;
    this.typed = '';
    const [dialog, { FindDialog }, { searchIndex }] = await Promise.all([this.dialog(), import('./find-dialog'), import('./search-index')]);
    dialog
      .open(FindDialog, {
        data: {
          all: searchIndex(table, { doc: this.doc, chosen: this.injector.get(SelectionService), room: this.injector.get(RoomService) }, more),
          ready: () => {
            this.finding = false;
            return this.typed;
          },
        },
        width: '560px',
        maxWidth: '94vw',
        position: { top: '80px' },
        restoreFocus: false,
        autoFocus: false,
        ariaLabel: $localize`Find`,
      })
      .afterClosed()
      .subscribe((f: Searchable | undefined) => {
        this.finding = false;
        f?.act();
      });
  }

  async sharing(): Promise<void> {
    const [dialog, { SharingDialog }] = await Promise.all([this.dialog(), import('../features/session/sharing-dialog')]);
    dialog.open(SharingDialog, { data: { id: this.doc.id(), name: this.doc.design().name }, width: '620px', maxWidth: '94vw' });
  }
}
