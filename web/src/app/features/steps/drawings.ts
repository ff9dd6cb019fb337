import { ChangeDetectionStrategy, Component, Injector, computed, inject } from '@angular/core';
import { MatButton, MatIconButton } from '@angular/material/button';
import { MatDialog } from '@angular/material/dialog';
import { MatMenu, MatMenuItem, MatMenuTrigger } from '@angular/material/menu';
import { FRAME, type Id } from '@unirota/core/document';
import { CommandsService } from '../../state/commands.service';
import { DesignService } from '../../state/design.service';
import { DrawingService } from '../../state/drawing.service';
import { Icon } from '../../ui/icon';
import { Named } from '../../ui/named';

/** The drawings of the design: a definition each, drawn anew when it is opened. */
@Component({
  selector: 'uni-drawings',
  imports: [Icon, MatButton, MatIconButton, MatMenu, MatMenuItem, MatMenuTrigger, Named],
  template: `
    <h2 i18n>Drawings</h2>
    <ul class="plainlist">
      @for (d of drawings(); track d.id) {
        <li>
          <button matButton class="plain" type="button" (click)="show(d.id)">{{ d.name }}</button>
          <span class="soft">{{ d.about }}</span>
          @if (!doc.readOnly()) {
            <button matIconButton class="plain" type="button" i18n-uniName uniName="Delete {{ d.name }}" (click)="commands.remove(d.id, d.name)">
              <uni-icon name="del" />
            </button>
          }
        </li>
      } @empty {
        <li i18n class="soft">None yet. A drawing follows the design: it is drawn anew whenever it is opened.</li>
      }
    </ul>
    @if (!doc.readOnly()) {
      <button matButton="outlined" type="button" [matMenuTriggerFor]="kinds" [disabled]="!members().length">
        <ng-container i18n>Add drawing</ng-container> …
      </button>
      <mat-menu #kinds="matMenu">
        <button i18n mat-menu-item type="button" (click)="add()">Whole design</button>
        <button i18n mat-menu-item type="button" (click)="add(undefined, true)">Train map</button>
        @for (m of members(); track m.id) {
          <button mat-menu-item type="button" (click)="add(m.id)">{{ m.name }}</button>
        }
      </mat-menu>
    }
  `,
  styles: `
    li {
      display: flex;
      align-items: center;
      gap: 8px;
    }
    ul {
      list-style: none;
      margin: 0 0 4px;
      padding: 0;
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class Drawings {
  private readonly dialog = inject(MatDialog);
  private readonly injector = inject(Injector);
  protected readonly doc = inject(DesignService);
  protected readonly commands = inject(CommandsService);
  private readonly service = inject(DrawingService);
  protected readonly members = computed(() => {
    const { members, elements } = this.doc.design();
    const carried = new Set(elements.map((e) => e.member));
    return [{ id: FRAME as Id, name: $localize`Frame` }, ...members].filter((m) => carried.has(m.id));
  });
  protected readonly drawings = computed(() => {
    const { drawings, members } = this.doc.design();
    return (drawings ?? []).map((d) => ({
      id: d.id,
      name: d.name,
      about: [
        d.paper ?? 'A3',
        d.shows === 'train map'
          ? $localize`train map`
          : d.member === undefined
            ? $localize`whole design`
            : (members.find((m) => m.id === d.member)?.name ?? $localize`frame`),
      ].join(', '),
    }));
  });

  protected add(member?: Id, map = false): void {
    const id = this.service.add(member, map);
    if (id) void this.show(id);
  }
  protected async show(id: Id): Promise<void> {
    const { DrawingDialog, DRAWING_DIALOG } = await import('./drawing-dialog');
    this.dialog.open(DrawingDialog, { ...DRAWING_DIALOG, data: id, injector: this.injector });
  }
}
