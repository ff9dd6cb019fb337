import { ChangeDetectionStrategy, Component, computed, inject, signal } from '@angular/core';
import { MatButton } from '@angular/material/button';
import { MAT_DIALOG_DATA, MatDialogActions, MatDialogClose, MatDialogContent, MatDialogRef, MatDialogTitle } from '@angular/material/dialog';
import { MatExpansionPanel, MatExpansionPanelHeader, MatExpansionPanelTitle } from '@angular/material/expansion';
import { connectionsOf, fittedTo, numbersOf, targetsOf } from '@unirota/core';
import { type Design, type Exact, type Id, statedBy } from '@unirota/core/document';
import { CommandsService, type PieceRequest } from '../../state/commands.service';
import { DesignService } from '../../state/design.service';
import { Choice, type Option } from '../../ui/choice';
import { type Committed, QuantityField } from '../../ui/quantity-field';

/** How large it opens. */
export const PIECE_DIALOG = { width: '560px', maxWidth: '94vw', autoFocus: 'dialog' } as const;
const NONE = '';

/** Puts a piece in: what it is connected to is asked for, its numbers are open to change. */
@Component({
  selector: 'uni-piece-dialog',
  imports: [
    Choice,
    MatButton,
    MatDialogActions,
    MatDialogClose,
    MatDialogContent,
    MatDialogTitle,
    MatExpansionPanel,
    MatExpansionPanelHeader,
    MatExpansionPanelTitle,
    QuantityField,
  ],
  template: `
    <h2 mat-dialog-title><ng-container i18n>Insert</ng-container> {{ piece().name }}</h2>
    <mat-dialog-content>
      @if (connections().length) {
        <p i18n class="soft">What it was connected to is not here. Choose what it goes to; it stands there as it stood before.</p>
        <div class="rows">
          @for (c of connections(); track c.id) {
            <span [id]="'pc-' + c.id"
              >{{ c.name }} <span class="soft">({{ c.of }})</span></span
            >
            <uni-choice
              [labelledBy]="'pc-' + c.id"
              [label]="c.name"
              [options]="c.options"
              [value]="to().get(c.id) ?? NONE"
              (picked)="connect(c.id, $event)"
            />
          }
        </div>
      } @else {
        <p i18n class="soft">It needs no connection: it stands where it stood.</p>
      }
      @for (s of fits(); track $index) {
        <p>✓ {{ s }}</p>
      }
      @if (numbers().length) {
        <mat-expansion-panel class="mat-elevation-z0">
          <mat-expansion-panel-header><mat-panel-title i18n>Numbers</mat-panel-title></mat-expansion-panel-header>
          @for (n of numbers(); track n.id) {
            <h3>{{ n.name }}</h3>
            <div class="rows">
              @for (f of n.fields; track f.key) {
                <label [for]="'pn-' + n.id + f.key">{{ f.label }}</label>
                <uni-quantity-field
                  [inputId]="'pn-' + n.id + f.key"
                  [field]="f"
                  [value]="value(n.id, f.key)"
                  (committed)="set(n.id, f.key, $event)"
                />
              }
            </div>
          }
        </mat-expansion-panel>
      }
      @if (problem()) {
        <p role="alert" class="caution">▲ {{ problem() }}</p>
      }
    </mat-dialog-content>
    <mat-dialog-actions align="end">
      <button i18n matButton type="button" mat-dialog-close>Cancel</button>
      <button i18n matButton="filled" type="button" (click)="insert()">Insert</button>
    </mat-dialog-actions>
  `,
  styleUrl: './piece-dialog.scss',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class PieceDialog {
  private readonly asked = inject<PieceRequest>(MAT_DIALOG_DATA);
  private readonly self = inject<MatDialogRef<PieceDialog>>(MatDialogRef);
  private readonly doc = inject(DesignService);
  private readonly commands = inject(CommandsService);
  protected readonly NONE = NONE;
  protected readonly piece = signal<Design>(this.asked.piece);
  protected readonly connections = computed(() =>
    connectionsOf(this.asked.piece).map((c) => ({
      ...c,
      options: [
        { value: NONE, label: $localize`Leave out` },
        ...targetsOf(this.doc.design(), this.asked.piece, c).map((t): Option => ({ value: t.id, label: t.name })),
      ],
    })),
  );
  protected readonly to = signal<ReadonlyMap<Id, Id>>(new Map());
  private readonly fitted = computed(() => fittedTo(this.doc.design(), this.piece(), this.to()));
  protected readonly fits = computed(() => this.fitted().said);
  protected readonly numbers = computed(() => numbersOf(this.asked.piece));
  protected readonly problem = signal('');

  protected connect(id: Id, target: string): void {
    const next = new Map(this.to());
    if (target === NONE) next.delete(id);
    else next.set(id, target);
    this.to.set(next);
  }
  protected value(id: Id, key: string): Exact | undefined {
    const e = this.fitted().piece.elements.find((x) => x.id === id);
    return e && (statedBy(e)[key] as Exact | undefined);
  }
  protected set(id: Id, key: string, { value }: Committed): void {
    if (value === undefined || value === '') return;
    this.piece.update((p) => ({ ...p, elements: p.elements.map((e) => (e.id === id ? { ...e, [key]: value } : e)) }));
  }
  protected insert(): void {
    const { origin } = this.asked;
    const trouble = this.commands.insertPiece(this.piece(), { to: this.to(), ...(origin && { origin, group: this.piece().name }) });
    if (trouble === undefined) this.self.close();
    else this.problem.set(trouble);
  }
}
