import { ChangeDetectionStrategy, Component, computed, inject, signal } from '@angular/core';
import { FormControl, ReactiveFormsModule, Validators } from '@angular/forms';
import { MatButton } from '@angular/material/button';
import { MatError, MatFormField, MatLabel } from '@angular/material/form-field';
import { MatInput } from '@angular/material/input';
import type { AcceptedFinding, Finding } from '@unirota/core/document';
import { type Cure, answersOf, removeItems, withAccepted } from '@unirota/core';
import { PapersService } from '../../state/papers.service';
import { intoField } from '../../ui/field-focus';
import { DesignService } from '../../state/design.service';
import { RemarksService } from '../../state/remarks.service';
import { SelectionService } from '../../state/selection.service';
import { FindingsService } from '../../state/findings.service';
import { UnitsService } from '../../state/units.service';
import { CommandsService } from '../../state/commands.service';

/** Every finding in one list; a click goes to what it concerns. */
@Component({
  selector: 'uni-findings',
  imports: [MatButton, MatError, MatFormField, MatInput, MatLabel, ReactiveFormsModule],
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
          @if (answers().get(f); as a) {
            <p class="answer" [class.over]="!a.holds">
              @if (a.holds) {
                ✓ <ng-container i18n>Accepted:</ng-container>
              } @else {
                ▲ <ng-container i18n>Was accepted, and has changed since:</ng-container>
              }
              {{ a.accepted.reason }}
              @if (by(a.accepted); as who) {
                <span class="soft">{{ who }}</span>
              }
              @if (!doc.readOnly()) {
                <button i18n matButton type="button" (click)="withdraw(a.accepted.id)">Withdraw</button>
              }
            </p>
          }
          @if (asked() === f) {
            <form class="answer" (submit)="$event.preventDefault(); accept(f)">
              <mat-form-field appearance="outline" class="reason">
                <mat-label i18n>Reason for accepting it</mat-label>
                <input matInput maxlength="1000" autocomplete="off" [formControl]="reason" />
                <mat-error i18n>Reason is missing: state why it is accepted</mat-error>
              </mat-form-field>
              <button i18n matButton="filled" type="submit">Accept</button>
              <button i18n matButton type="button" (click)="asked.set(undefined)">Cancel</button>
            </form>
          }
          <span class="cures">
            @if (asked() !== f) {
              <button i18n matButton type="button" (click)="remark(f)">Remark …</button>
            }
            @if (f.severity !== 'note') {
              @if (f.severity === 'caution' && !doc.readOnly() && !answers().get(f)?.holds && asked() !== f) {
                <button i18n matButton type="button" (click)="ask(f)">Accept …</button>
              }
              @for (c of cures()[k]; track c.label) {
                <button matButton="outlined" type="button" (click)="commands.cure(c)">{{ units().sentence(c.label) }}</button>
              }
            }
          </span>
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
    .answer {
      display: flex;
      flex-wrap: wrap;
      align-items: center;
      gap: 0 8px;
      margin: 0;
      padding: 2px 0 2px 76px;
      color: var(--verdigris);
    }
    .answer.over {
      color: var(--caution);
    }
    .reason {
      flex: 1;
      min-width: 220px;
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
  private readonly remarks = inject(RemarksService);
  /** Begins a remark about a finding. */
  protected remark(f: Finding): void {
    this.remarks.begins({ kind: 'finding', code: f.code, items: f.ids.slice(0, 40), message: f.message.slice(0, 1000) });
  }
  protected readonly commands = inject(CommandsService);
  private readonly papers = inject(PapersService);
  /** For each finding; worked out once for a state, not each time the pointer passes. */
  protected readonly cures = computed((): Cure[][] => this.found.findings().map((f) => (f.severity === 'note' ? [] : this.found.curesOf()(f))));
  /** Cautions that somebody has accepted, and whether that still holds. */
  protected readonly answers = computed(() => answersOf(this.doc.design(), this.found.findings()));
  /** The caution whose reason is being written. */
  protected readonly asked = signal<Finding | undefined>(undefined);
  protected readonly reason = new FormControl('', { nonNullable: true, validators: [Validators.required, Validators.pattern(/\S/)] });
  protected by({ person, date }: AcceptedFinding): string {
    return [person, date].filter(Boolean).join(', ');
  }
  protected ask(f: Finding): void {
    this.reason.reset();
    this.asked.set(f);
  }
  protected accept(f: Finding): void {
    this.reason.markAsTouched();
    if (this.reason.invalid) return;
    const { day, person } = this.papers.titleData();
    const trouble = this.doc.edit($localize`Accept caution`, (d) =>
      withAccepted(d, f, { reason: this.reason.value.trim(), date: day, ...(person && { person }) }),
    );
    if (trouble) this.doc.said.set(trouble);
    else this.asked.set(undefined);
  }
  protected withdraw(id: string): void {
    this.doc.edit($localize`Withdraw acceptance`, (d) => removeItems(d, [id]));
  }
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
    if (f.field) intoField(f.field);
  }
}
