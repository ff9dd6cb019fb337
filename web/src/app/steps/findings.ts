import { ChangeDetectionStrategy, Component, computed, inject } from '@angular/core';
import { MatButton } from '@angular/material/button';
import type { Finding } from '@unirota/core/document';
import type { Cure } from '@unirota/core';
import { WorkbenchStore } from '../workbench/workbench.store';

/** Every finding in one list; a click goes to what it concerns. */
@Component({
  selector: 'uni-findings',
  imports: [MatButton],
  template: `
    @if (store.canFit()) {
      <button matButton="filled" type="button" class="main" (click)="store.fit()">Fit the train: working distances and phases</button>
    }
    <ul>
      @for (f of store.findings(); track $index; let k = $index) {
        <li [class]="f.severity">
          <button
            type="button"
            class="plain"
            (click)="go(f)"
            (mouseenter)="point(f.ids)"
            (mouseleave)="point([])"
            (focus)="point(f.ids)"
            (blur)="point([])"
          >
            <span class="mark" aria-hidden="true">{{ f.severity === 'stop' ? '■' : f.severity === 'caution' ? '▲' : '●' }}</span>
            <b>{{ f.severity }}</b> <span>{{ f.message }}</span>
          </button>
          @if (f.severity !== 'note') {
            <span class="cures">
              @for (c of cures()[k]; track c.label) {
                <button matButton="outlined" type="button" (click)="store.cure(c)">{{ c.label }}</button>
              }
            </span>
          }
        </li>
      } @empty {
        <li class="none">✓ No findings: everything checked is in order.</li>
      }
    </ul>
  `,
  styles: `
    ul {
      list-style: none;
      margin: 6px 0 0;
      padding: 0;
      display: grid;
      gap: 3px;
    }
    li > button {
      display: grid;
      grid-template-columns: 16px 56px 1fr;
      justify-items: start;
      text-align: left;
      width: 100%;
      border-left: 3px solid var(--ink-soft);
      border-radius: 0;
      background: var(--sunk);
    }
    .stop > button {
      border-left-color: var(--oxide);
      background: var(--oxide-fill);
    }
    .caution > button {
      border-left-color: var(--caution);
      background: var(--caution-fill);
    }
    .cures {
      display: flex;
      flex-wrap: wrap;
      gap: 4px;
      padding: 2px 0 4px 76px;
    }
    .none {
      color: var(--verdigris);
      font-weight: 600;
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class Findings {
  protected readonly store = inject(WorkbenchStore);
  /** For each finding; worked out once for a state, not each time the pointer passes. */
  protected readonly cures = computed((): Cure[][] => this.store.findings().map((f) => (f.severity === 'note' ? [] : this.store.curesOf()(f))));
  protected point(ids: readonly string[]): void {
    this.store.pointed.set(new Set(ids));
  }
  /** Selects what the finding concerns, and goes to the field that cures it: the item that has it comes first. */
  protected go(f: Finding): void {
    const items = f.ids.map((id) => this.store.find(id)).filter((s) => !!s);
    const owner = f.field ? [...items].reverse().find((s) => f.field! in (this.store.item(s) ?? {})) : undefined;
    const s = owner ?? (f.field ? items[items.length - 1] : items[0]);
    if (!s) return;
    this.store.select(s.kind, s.id);
    if (f.field) setTimeout(() => document.getElementById(`f-${f.field}`)?.focus());
  }
}
