import { ChangeDetectionStrategy, Component, inject, signal } from '@angular/core';
import { DatePipe } from '@angular/common';
import { MatButton } from '@angular/material/button';
import { MatDialogActions, MatDialogClose, MatDialogContent, MatDialogTitle } from '@angular/material/dialog';
import { MatTableModule } from '@angular/material/table';
import type { DeletedLine } from '@unirota/contract';
import { ApiService } from '../../state/api.service';
import { Named } from '../../ui/named';

/** One's own deleted designs, each to be restored for as long as the server keeps it. */
@Component({
  selector: 'uni-deleted-dialog',
  imports: [Named, DatePipe, MatButton, MatDialogActions, MatDialogClose, MatDialogContent, MatDialogTitle, MatTableModule],
  template: `
    <h2 i18n matDialogTitle>Deleted designs</h2>
    <mat-dialog-content>
      @if (trouble(); as t) {
        <p class="trouble" role="alert">{{ t }}</p>
      }
      @if (designs(); as list) {
        @if (list.length) {
          <table i18n-aria-label mat-table [dataSource]="list" aria-label="Deleted designs">
            <ng-container matColumnDef="name">
              <th i18n mat-header-cell *matHeaderCellDef>Name</th>
              <td mat-cell *matCellDef="let d">{{ d.name }}</td>
            </ng-container>
            <ng-container matColumnDef="deleted">
              <th i18n mat-header-cell *matHeaderCellDef>Deleted</th>
              <td mat-cell *matCellDef="let d">{{ d.deletedAt | date: 'd MMM y, HH:mm' }}</td>
            </ng-container>
            <ng-container matColumnDef="acts">
              <th mat-header-cell *matHeaderCellDef><span i18n class="visually-hidden">Restore</span></th>
              <td mat-cell *matCellDef="let d">
                <button i18n matButton type="button" i18n-uniName uniName="Restore {{ d.name }}" (click)="restore(d)">Restore</button>
              </td>
            </ng-container>
            <tr mat-header-row *matHeaderRowDef="columns"></tr>
            <tr mat-row *matRowDef="let d; columns: columns"></tr>
          </table>
        } @else {
          <p i18n class="soft">No deleted designs.</p>
        }
      } @else if (!trouble()) {
        <p i18n class="soft">Reading …</p>
      }
    </mat-dialog-content>
    <mat-dialog-actions><button i18n matButton type="button" matDialogClose>Close</button></mat-dialog-actions>
  `,
  styles: `
    table {
      width: 100%;
      min-width: 420px;
    }
    td:last-child {
      text-align: right;
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class DeletedDialog {
  private readonly api = inject(ApiService);
  protected readonly columns = ['name', 'deleted', 'acts'];
  protected readonly designs = signal<readonly DeletedLine[] | undefined>(undefined);
  protected readonly trouble = signal('');

  constructor() {
    this.api.deleted().subscribe({ next: (l) => this.designs.set(l), error: (e: Error) => this.trouble.set(e.message) });
  }

  protected restore(d: DeletedLine): void {
    this.trouble.set('');
    this.api.restore(d.id).subscribe({
      next: () => this.designs.update((l) => l?.filter((x) => x.id !== d.id)),
      error: (e: Error) => this.trouble.set(e.message),
    });
  }
}
