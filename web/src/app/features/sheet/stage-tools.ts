import { ChangeDetectionStrategy, Component, computed, inject } from '@angular/core';
import { MatButton } from '@angular/material/button';
import {
  type NotReworked,
  type Reworked,
  canBegin,
  copyStage,
  deleteStage,
  gearsOfPair,
  moveStage,
  stageOf,
  withBalancedShifts,
} from '@unirota/core';
import type { Design, Id } from '@unirota/core/document';
import { Choice } from '../../ui/choice';
import { DesignService } from '../../state/design.service';
import { SelectionService } from '../../state/selection.service';
import { MotionService } from '../../state/motion.service';

/**
 * What can be done with the stage that the selected coupling belongs to:
 * another before it, another in its place, elsewhere, once more, gone.
 */
@Component({
  selector: 'uni-stage-tools',
  imports: [MatButton, Choice],
  template: `
    @if (stage(); as s) {
      <h3 i18n>Stage</h3>
      <p i18n class="soft">From {{ name(s.from) }} to {{ s.output === s.from ? 'the frame' : name(s.output) }}</p>
      <div class="buttons">
        <button i18n matButton="outlined" type="button" (click)="chosen.inserting.set({ from: s.from, before: s.coupling })">Insert before</button>
        @if (s.output !== s.from) {
          <button i18n matButton="outlined" type="button" (click)="chosen.inserting.set({ from: s.from, instead: s.coupling })">Replace …</button>
        }
        @if (pair(); as c) {
          <button i18n matButton="outlined" type="button" (click)="balance(c)">Balance sliding</button>
        }
        <button i18n matButton="outlined" type="button" (click)="remove(s.coupling)">Delete stage</button>
      </div>
      <div class="buttons">
        <uni-choice
          i18n-label
          i18n-placeholder
          label="Move behind"
          placeholder="Move behind …"
          [options]="moves()"
          (picked)="move(s.coupling, $event)"
        />
        <uni-choice
          i18n-label
          i18n-placeholder
          label="Copy behind"
          placeholder="Copy behind …"
          [options]="shafts()"
          (picked)="copy(s.coupling, $event)"
        />
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
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class StageTools {
  protected readonly doc = inject(DesignService);
  protected readonly chosen = inject(SelectionService);
  protected readonly motion = inject(MotionService);
  protected readonly stage = computed(() => {
    const s = this.chosen.selection();
    return s?.kind === 'coupling' ? stageOf(this.doc.design(), s.id, this.motion.worked().compiled) : undefined;
  });
  protected readonly shafts = computed(() => {
    const d = this.doc.design();
    return d.members.filter((m) => canBegin(d, 'spur', m.id)).map((m) => ({ value: m.id, label: m.name }));
  });
  protected readonly moves = computed(() => this.shafts().filter((m) => m.value !== this.stage()?.from && !this.stage()?.members.has(m.value)));
  protected name(id: Id): string {
    return this.doc.design().members.find((m) => m.id === id)?.name ?? $localize`the frame`;
  }

  private put(text: string, change: (d: Design) => Reworked | NotReworked): void {
    const r = change(this.doc.design());
    const trouble = r.problem ?? this.doc.edit(text, () => r.design);
    if (trouble) return this.doc.said.set(trouble);
    if (r.problem === undefined && r.coupling) this.chosen.select('coupling', r.coupling);
    this.doc.said.set($localize`Done: ${text.toLowerCase()}`);
  }
  /** The selected pair of external gears. */
  protected readonly pair = computed(() => {
    const s = this.chosen.selection();
    return s?.kind === 'coupling' && gearsOfPair(this.doc.design(), s.id) ? s.id : undefined;
  });
  protected balance(coupling: Id): void {
    const text = $localize`Balance the sliding`;
    const r = withBalancedShifts(this.doc.design(), coupling);
    const trouble = r.problem ?? this.doc.edit(text, () => r.design);
    this.doc.said.set(trouble ?? $localize`Done: ${text.toLowerCase()}`);
  }
  protected remove(coupling: Id): void {
    this.put($localize`Delete the stage`, (d) => deleteStage(d, coupling));
  }
  protected move(coupling: Id, onto: Id): void {
    if (onto) this.put($localize`Move the stage behind ${this.name(onto)}`, (d) => moveStage(d, coupling, onto));
  }
  protected copy(coupling: Id, onto: Id): void {
    if (onto) this.put($localize`Copy the stage behind ${this.name(onto)}`, (d) => copyStage(d, coupling, onto));
  }
}
