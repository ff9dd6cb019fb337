import { ChangeDetectionStrategy, Component, computed, inject } from '@angular/core';
import { MatButton } from '@angular/material/button';
import type { Finding } from '@unirota/core/document';
import type { Cure } from '@unirota/core';
import { DesignService } from '../../state/design.service';
import { SelectionService } from '../../state/selection.service';
import { FindingsService } from '../../state/findings.service';
import { UnitsService } from '../../state/units.service';
import { CommandsService } from '../../state/commands.service';

/** Every finding in one list; a click goes to what it concerns. */
@Component({
  selector: 'uni-findings',
  imports: [MatButton],
  template: `
    @if (found.canFit()) {
      <button i18n matButton="filled" type="button" class="main" (click)="commands.fit()">Fit the train: working distances and phases</button>
    }
    <ul>
      @for (f of found.findings(); track $index; let k = $index) {
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
            <span class="mark" aria-hidden="true">{{ f.severity === 'fault' ? '■' : f.severity === 'caution' ? '▲' : '●' }}</span>
            <b>{{ f.severity }}</b> <span>{{ units().sentence(f.message) }}</span>
          </button>
          @if (f.severity !== 'note') {
            <span class="cures">
              @for (c of cures()[k]; track c.label) {
                <button matButton="outlined" type="button" (click)="commands.cure(c)">{{ units().sentence(c.label) }}</button>
              }
            </span>
          }
        </li>
      } @empty {
        <li i18n class="none">✓ No findings: everything checked is in order.</li>
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
    .fault > button {
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
  protected readonly doc = inject(DesignService);
  protected readonly chosen = inject(SelectionService);
  protected readonly found = inject(FindingsService);
  protected readonly units = inject(UnitsService).now;
  protected readonly commands = inject(CommandsService);
  /** For each finding; worked out once for a state, not each time the pointer passes. */
  protected readonly cures = computed((): Cure[][] => this.found.findings().map((f) => (f.severity === 'note' ? [] : this.found.curesOf()(f))));
  protected point(ids: readonly string[]): void {
    this.chosen.pointed.set(new Set(ids));
  }
  /** Selects what the finding concerns, and goes to the field that cures it: the item that has it comes first. */
  protected go(f: Finding): void {
    const items = f.ids.map((id) => this.doc.find(id)).filter((s) => !!s);
    const owner = f.field ? [...items].reverse().find((s) => f.field! in (this.doc.item(s) ?? {})) : undefined;
    const s = owner ?? (f.field ? items[items.length - 1] : items[0]);
    if (!s) return;
    this.chosen.select(s.kind, s.id);
    if (f.field) setTimeout(() => document.getElementById(`f-${f.field}`)?.focus());
  }
}
