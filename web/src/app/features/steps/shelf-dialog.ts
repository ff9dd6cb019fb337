import { ChangeDetectionStrategy, Component, computed, inject, signal } from '@angular/core';
import { RouterLink } from '@angular/router';
import { MatButton } from '@angular/material/button';
import { MatDialogActions, MatDialogClose, MatDialogContent, MatDialogRef, MatDialogTitle } from '@angular/material/dialog';
import { MatProgressBar } from '@angular/material/progress-bar';
import type { Design, Id } from '@unirota/core/document';
import { CommandsService } from '../../state/commands.service';
import { DesignService } from '../../state/design.service';
import { SelectionService } from '../../state/selection.service';
import { ShelfService } from '../../state/shelf.service';
import { TextField } from '../../ui/text-field';

/** How large it opens. */
export const SHELF_DIALOG = { width: '620px', maxWidth: '94vw', autoFocus: 'dialog' } as const;

/** The shelf: what is selected is put onto it under a name, pieces are taken off it. */
@Component({
  selector: 'uni-shelf-dialog',
  imports: [MatButton, MatDialogActions, MatDialogClose, MatDialogContent, MatDialogTitle, MatProgressBar, RouterLink, TextField],
  providers: [ShelfService],
  template: `
    <h2 i18n mat-dialog-title>Shelf</h2>
    <mat-dialog-content>
      <section>
        <h3 i18n>Save the selected items</h3>
        @if (count()) {
          <div class="save">
            <label i18n for="sh-name">Name</label>
            <uni-text-field inputId="sh-name" needed [longest]="120" [value]="name()" (changed)="name.set($event)" />
            <button i18n matButton="outlined" type="button" [disabled]="busy()" (click)="save()">Save to shelf</button>
          </div>
          <p i18n class="soft">{{ count() }} selected, with elements, joints and meshes that belong to them.</p>
        } @else {
          <p i18n class="soft">Nothing is selected: select a member, a stage or several items first.</p>
        }
      </section>
      <section>
        <h3 i18n>My pieces</h3>
        @if (shelf.pieces(); as list) {
          <ul>
            @for (p of list; track p.id) {
              <li>
                <span>{{ p.name }}</span>
                <span i18n class="soft">revision {{ p.revision }}</span>
                <a i18n matButton [routerLink]="['/design', p.id]" mat-dialog-close>Open</a>
                <button i18n matButton="outlined" type="button" [disabled]="busy() || !!doc.readOnly()" (click)="take(p.id)">Insert</button>
              </li>
            } @empty {
              <li i18n class="soft">None yet. A piece is a design in the folder “Shelf”: it is shared and exported as designs are.</li>
            }
          </ul>
        } @else if (!shelf.trouble()) {
          <mat-progress-bar i18n-aria-label mode="indeterminate" aria-label="Fetching the shelf" />
        }
      </section>
      <section>
        <h3 i18n>Standard pieces</h3>
        <ul>
          @for (p of shelf.standard(); track p.name) {
            <li>
              <span>{{ p.name }}</span>
              <span></span>
              <span></span>
              <button i18n matButton="outlined" type="button" [disabled]="!!doc.readOnly()" (click)="insert(p)">Insert</button>
            </li>
          }
        </ul>
      </section>
      @if (problem() || shelf.trouble()) {
        <p role="alert" class="caution">▲ {{ problem() || shelf.trouble() }}</p>
      }
    </mat-dialog-content>
    <mat-dialog-actions align="end">
      <button i18n matButton type="button" mat-dialog-close>Close</button>
    </mat-dialog-actions>
  `,
  styles: `
    section {
      margin-bottom: 10px;
    }
    h3 {
      margin: 0 0 4px;
      font-size: 14px;
    }
    .save {
      display: grid;
      grid-template-columns: auto minmax(0, 1fr) auto;
      gap: 10px;
      align-items: center;
    }
    ul {
      list-style: none;
      margin: 0;
      padding: 0;
    }
    li {
      display: grid;
      grid-template-columns: minmax(0, 1fr) auto auto auto;
      gap: 8px;
      align-items: center;
    }
    p {
      margin: 4px 0;
    }
    .soft {
      color: var(--ink-soft);
    }
    .caution {
      color: var(--caution);
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class ShelfDialog {
  private readonly self = inject<MatDialogRef<ShelfDialog>>(MatDialogRef);
  private readonly chosen = inject(SelectionService);
  private readonly commands = inject(CommandsService);
  protected readonly doc = inject(DesignService);
  protected readonly shelf = inject(ShelfService);
  protected readonly count = computed(() => this.chosen.selected().length);
  protected readonly busy = signal(false);
  protected readonly problem = signal('');
  protected readonly name = signal(this.beginning());

  constructor() {
    void this.shelf.load();
  }

  private beginning(): string {
    const [first, ...more] = this.chosen.selected();
    const item = first && !more.length ? (this.doc.item(first) as { name?: string } | undefined) : undefined;
    return item?.name ?? $localize`Piece`;
  }
  protected async save(): Promise<void> {
    this.busy.set(true);
    const trouble = await this.shelf.save(
      this.chosen.selected().map((s) => s.id),
      this.name(),
    );
    this.problem.set(trouble ?? '');
    this.busy.set(false);
  }
  protected async take(id: Id): Promise<void> {
    this.busy.set(true);
    try {
      const request = await this.shelf.take(id);
      this.self.close();
      this.commands.pieces.next(request);
    } catch (e) {
      this.problem.set((e as Error).message);
    } finally {
      this.busy.set(false);
    }
  }
  protected insert(piece: Design): void {
    this.self.close();
    this.commands.pieces.next({ piece });
  }
}
