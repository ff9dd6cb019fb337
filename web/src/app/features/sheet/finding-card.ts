import { ChangeDetectionStrategy, Component, computed, inject, input } from '@angular/core';
import { MatButton } from '@angular/material/button';
import type { Finding } from '@unirota/core/document';
import { FindingsService } from '../../state/findings.service';
import { UnitsService } from '../../state/units.service';
import { CommandsService } from '../../state/commands.service';

/** One finding with the fixes of it, each a button. */
@Component({
  selector: 'uni-finding-card',
  imports: [MatButton],
  template: `
    @let f = finding();
    <p [class]="f.severity">
      <span class="mark" aria-hidden="true">{{ f.severity === 'fault' ? '■' : f.severity === 'caution' ? '▲' : '●' }}</span>
      <span
        ><b>{{ f.severity }}</b> {{ units().sentence(f.message) }}</span
      >
    </p>
    @if (f.severity !== 'note') {
      @for (c of cures(); track c.label) {
        <button matButton="outlined" type="button" (click)="commands.cure(c)">{{ units().sentence(c.label) }}</button>
      }
    }
  `,
  styles: `
    :host {
      display: grid;
      gap: 2px;
      margin: 5px 0;
    }
    p {
      display: flex;
      gap: 6px;
      margin: 0;
      padding: 5px 8px;
      border-left: 3px solid var(--ink-soft);
      background: var(--sunk);
      font-size: 13px;
    }
    .fault {
      border-color: var(--oxide);
      background: var(--oxide-fill);
    }
    .caution {
      border-color: var(--caution);
      background: var(--caution-fill);
    }
    button {
      justify-content: start;
      text-align: left;
      line-height: 1.2;
      margin-left: 12px;
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class FindingCard {
  protected readonly found = inject(FindingsService);
  protected readonly units = inject(UnitsService).now;
  protected readonly commands = inject(CommandsService);
  readonly finding = input.required<Finding>();
  protected readonly cures = computed(() => this.found.curesOf()(this.finding()));
}
