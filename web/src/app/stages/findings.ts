import { ChangeDetectionStrategy, Component, inject } from '@angular/core';
import type { Finding } from '@unirota/core/design';
import { WorkbenchStore } from '../workbench/workbench.store';

/** Every finding in one list; a click goes to what it concerns. */
@Component({
  selector: 'uni-findings',
  template: `
    @if (store.canFit()) {
      <button type="button" class="main" (click)="store.fit()">Fit the train: working distances and phases</button>
    }
    <ul>
      @for (f of store.findings(); track $index) {
        <li [class]="f.severity">
          <button type="button" class="plain" (click)="go(f)">
            <span class="mark" aria-hidden="true">{{ f.severity === 'stop' ? '■' : f.severity === 'caution' ? '▲' : '●' }}</span>
            <b>{{ f.severity }}</b> <span>{{ f.message }}</span>
          </button>
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
    li button {
      display: grid;
      grid-template-columns: 16px 56px 1fr;
      justify-items: start;
      text-align: left;
      width: 100%;
      border-left: 3px solid var(--ink-soft);
      border-radius: 0;
      background: var(--sunk);
    }
    .stop button {
      border-left-color: var(--oxide);
      background: var(--oxide-fill);
    }
    .caution button {
      border-left-color: var(--caution);
      background: var(--caution-fill);
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
  protected go(f: Finding): void {
    // The thing that has the field to cure it comes first.
    for (const id of f.field ? [...f.ids].reverse() : f.ids) {
      const s = this.store.find(id);
      if (s) return this.store.selection.set(s);
    }
  }
}
