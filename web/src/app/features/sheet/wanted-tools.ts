import { ChangeDetectionStrategy, Component, computed, inject } from '@angular/core';
import { MatButton } from '@angular/material/button';
import { canBegin, inputSpeedFor, memberOfWanted, missing, stillNeeded, withSourceSpeed } from '@unirota/core';
import type { WantedOutput } from '@unirota/core/document';
import { show } from '@unirota/core/units';
import { UnitsService } from '../../state/units.service';
import { DesignService } from '../../state/design.service';
import { MotionService } from '../../state/motion.service';
import { SelectionService } from '../../state/selection.service';

/**
 * What the selected wanted output gets, what it still needs, and
 * ways to it: a stage behind its member, or another input speed.
 */
@Component({
  selector: 'uni-wanted-tools',
  imports: [MatButton],
  template: `
    @if (wanted()) {
      <h3 i18n>Result</h3>
      <p role="status">{{ result() }}</p>
      @if (needed(); as n) {
        <p i18n>Still needed: {{ n }}</p>
      }
      <div class="buttons">
        @if (place(); as p) {
          <button i18n matButton="outlined" type="button" (click)="chosen.inserting.set({ from: p.id })">Insert stage behind {{ p.name }}</button>
        }
        @if (input(); as i) {
          <button i18n matButton="outlined" type="button" (click)="setInput()">Set speed of {{ i.name }} to {{ i.text }}</button>
        }
      </div>
    }
  `,
  styleUrl: './data-sheet.scss',
  styles: `
    :host {
      display: block;
      height: auto;
      padding: 0;
      overflow: visible;
      background: none;
      border: 0;
    }
    p {
      margin: 2px 0;
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class WantedTools {
  private readonly doc = inject(DesignService);
  protected readonly chosen = inject(SelectionService);
  private readonly motion = inject(MotionService);
  private readonly units = inject(UnitsService).now;
  protected readonly wanted = computed<WantedOutput | undefined>(() => {
    const s = this.chosen.selection();
    return s?.kind === 'wanted' ? this.doc.design().wanted.find((w) => w.id === s.id) : undefined;
  });
  protected readonly result = computed(() => {
    const r = this.motion.ledger().wanted.find((x) => x.wanted === this.wanted()?.id);
    if (!r) return '';
    if (r.value === undefined) return r.because ?? '';
    const value = this.units().text(r.value, r.unit);
    return r.met ? `✓ met: ${value}` : `✗ ${value}, missed by ${this.units().text(r.off ?? 0, r.unit, 3)}`;
  });
  /** The member behind which a stage goes: that of the output, or the one that was built last. */
  protected readonly place = computed(() => {
    const w = this.wanted(),
      d = this.doc.design();
    if (!w || this.motion.ledger().wanted.find((x) => x.wanted === w.id)?.met) return undefined;
    const at = memberOfWanted(d, w) ?? [...this.motion.ledger().lines].reverse().find((l) => l.motion === 'turn' && l.speed !== 0)?.member;
    return at !== undefined && canBegin(d, 'spur', at) ? d.members.find((m) => m.id === at) : undefined;
  });
  protected readonly needed = computed(() => {
    const w = this.wanted(),
      at = this.place();
    if (!w) return undefined;
    const figures = this.motion.ledger();
    const n = (at ? stillNeeded(this.doc.design(), figures, at.id).find((x) => x.wanted === w.id) : undefined) ?? missing(w, figures)[0];
    if (!n) return undefined;
    const text = n.kind === 'travel' ? this.units().text(n.ratio, 'mm/rev', 6) : $localize`${show(n.ratio, 6)} turns in for one out`;
    return at ? $localize`${text}, behind ${at.name}` : $localize`${text}, before what slides`;
  });
  private readonly faster = computed(() => {
    const w = this.wanted();
    return w ? inputSpeedFor(this.doc.design(), w, this.motion.ledger()) : undefined;
  });
  protected readonly input = computed(() => {
    const at = this.faster();
    const source = this.doc.design().sources.find((s) => s.id === at?.source);
    return at && source ? { name: source.name, text: this.units().text(at.speed, this.motion.sourceSlides() ? 'mm/s' : 'rev/min', 7) } : undefined;
  });
  protected setInput(): void {
    const at = this.faster();
    if (!at) return;
    const trouble = this.doc.edit($localize`Set input speed`, (d) => withSourceSpeed(d, at));
    this.doc.said.set(trouble ?? $localize`${this.input()?.name ?? $localize`The source`} runs at the speed that the output needs`);
  }
}
