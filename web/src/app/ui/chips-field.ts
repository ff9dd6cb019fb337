import { type CdkDragDrop, CdkDrag, CdkDropList, moveItemInArray } from '@angular/cdk/drag-drop';
import { ChangeDetectionStrategy, Component, ElementRef, computed, inject, input, output } from '@angular/core';
import { MatChip, MatChipRemove, MatChipSet } from '@angular/material/chips';
import { Choice, type Option } from './choice';
import { Icon } from './icon';
import { Named } from './named';

/**
 * Several things in an order: chips that are dragged, moved with Ctrl and the
 * arrow keys, and taken out; what is not among them yet is added from a list.
 */
@Component({
  selector: 'uni-chips-field',
  imports: [Named, CdkDrag, CdkDropList, Choice, Icon, MatChip, MatChipRemove, MatChipSet],
  template: `
    <mat-chip-set role="list" [attr.aria-labelledby]="labelledBy()" cdkDropList cdkDropListOrientation="mixed" (cdkDropListDropped)="dropped($event)">
      @for (o of chosen(); track o.value; let k = $index) {
        <mat-chip role="listitem" cdkDrag (removed)="remove(k)" (keydown)="key($event, k)">
          {{ o.label }}
          <button matChipRemove type="button" [tabIndex]="0" i18n-uniName uniName="Take out {{ o.label }}">
            <uni-icon name="close" />
          </button>
        </mat-chip>
      }
    </mat-chip-set>
    @if (rest().length) {
      <uni-choice
        i18n-placeholder
        [inputId]="inputId()"
        [labelledBy]="labelledBy()"
        placeholder="add …"
        [options]="rest()"
        (picked)="add('' + $event)"
      />
    }
  `,
  styles: `
    :host {
      display: grid;
      gap: 4px;
      min-width: 0;
    }
    mat-chip {
      cursor: grab;
      max-width: 100%;
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class ChipsField {
  readonly options = input.required<readonly Option[]>();
  readonly value = input.required<readonly string[]>();
  readonly labelledBy = input.required<string>();
  readonly inputId = input<string>();
  readonly changed = output<readonly string[]>();

  private readonly host = inject<ElementRef<HTMLElement>>(ElementRef).nativeElement;

  protected readonly chosen = computed(() =>
    this.value().map((value) => ({ value, label: this.options().find((o) => o.value === value)?.label ?? value })),
  );
  protected readonly rest = computed(() => this.options().filter((o) => !this.value().includes('' + o.value)));

  protected add(value: string): void {
    this.changed.emit([...this.value(), value]);
  }
  protected remove(at: number): void {
    this.changed.emit(this.value().filter((_, k) => k !== at));
  }
  protected dropped({ previousIndex, currentIndex }: CdkDragDrop<unknown>): void {
    this.move(previousIndex, currentIndex);
  }
  protected key(e: KeyboardEvent, at: number): void {
    const to = e.key === 'ArrowLeft' || e.key === 'ArrowUp' ? at - 1 : e.key === 'ArrowRight' || e.key === 'ArrowDown' ? at + 1 : at;
    if (!e.ctrlKey || to === at) return;
    e.preventDefault();
    e.stopPropagation();
    if (to < 0 || to >= this.value().length) return;
    this.move(at, to);
    // The focus goes along with what was moved.
    setTimeout(() => this.host.querySelectorAll<HTMLElement>('mat-chip button')[to]?.focus());
  }
  private move(from: number, to: number): void {
    if (from === to) return;
    const list = [...this.value()];
    moveItemInArray(list, from, to);
    this.changed.emit(list);
  }
}
