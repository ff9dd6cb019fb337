import { ChangeDetectionStrategy, Component, computed, inject, signal } from '@angular/core';
import { toSignal } from '@angular/core/rxjs-interop';
import { FormControl, ReactiveFormsModule, Validators } from '@angular/forms';
import { MatButton } from '@angular/material/button';
import { MatCheckbox } from '@angular/material/checkbox';
import { MatDialogActions, MatDialogClose, MatDialogContent, MatDialogRef, MatDialogTitle } from '@angular/material/dialog';
import { MatError, MatFormField, MatHint, MatLabel } from '@angular/material/form-field';
import { MatInput } from '@angular/material/input';
import { MatProgressBar } from '@angular/material/progress-bar';
import { type Checked, RELEASE_PARTS, type ReleasePart, ReleaseService } from '../../state/release.service';
import { UnitsService } from '../../state/units.service';

/** How large it opens. */
export const RELEASE_DIALOG = { width: '640px', maxWidth: '96vw', autoFocus: 'dialog' } as const;

const PARTS: Record<ReleasePart, string> = {
  report: $localize`Report (PDF)`,
  drawings: $localize`Drawings (PDF)`,
  tables: $localize`Tables (XLSX)`,
  step: $localize`Solids (STEP)`,
  dxf: $localize`Cutting profiles (DXF)`,
  design: $localize`Design document`,
};

/** The checklist of a release, which the design fills itself; the files that go out; and the release. */
@Component({
  selector: 'uni-release-dialog',
  imports: [
    MatButton,
    MatCheckbox,
    MatDialogActions,
    MatDialogClose,
    MatDialogContent,
    MatDialogTitle,
    MatError,
    MatFormField,
    MatHint,
    MatInput,
    MatLabel,
    MatProgressBar,
    ReactiveFormsModule,
  ],
  template: `
    <h2 mat-dialog-title><ng-container i18n>Release</ng-container> {{ service.next() }}</h2>
    <mat-dialog-content>
      @if (lines(); as list) {
        <ul class="plainlist">
          @for (l of list; track l.key) {
            <li [class]="l.state">
              <span aria-hidden="true">{{ MARKS[l.state] }}</span>
              <span
                ><b class="cdk-visually-hidden">{{ WORDS[l.state] }}</b> {{ units().sentence(l.text) }}</span
              >
            </li>
          }
        </ul>
        @if (blocked()) {
          <p i18n class="fault">A design with a fault is not released. Cure it, then release.</p>
        } @else {
          @if (open()) {
            <mat-form-field appearance="outline" class="wide">
              <mat-label i18n>Reason for releasing with open points</mat-label>
              <textarea matInput rows="2" maxlength="1000" [formControl]="reason"></textarea>
              <mat-hint i18n>It is kept with the release.</mat-hint>
              <mat-error i18n>Reason is missing: state why it is released all the same</mat-error>
            </mat-form-field>
          }
          <fieldset>
            <legend i18n>Files</legend>
            @for (p of parts; track p) {
              <mat-checkbox [checked]="chosen().has(p)" [disabled]="busy()" (change)="choose(p, $event.checked)">{{ PARTS[p] }}</mat-checkbox>
            }
          </fieldset>
          <p i18n class="soft">
            The files are made of the home position and kept with their SHA-256. A release is never changed; what is edited later is the next draft.
          </p>
        }
        @if (!service.saved()) {
          <p i18n class="caution">▲ The design is not saved yet: a release is of what is on the server.</p>
        }
      } @else if (!problem()) {
        <p i18n>Looking through the design and its runs …</p>
        <mat-progress-bar i18n-aria-label mode="indeterminate" aria-label="Looking through the design" />
      }
      @if (service.stage()) {
        <p role="status">{{ service.stage() }}</p>
        <mat-progress-bar i18n-aria-label mode="indeterminate" aria-label="Making the release" />
      }
      @if (problem()) {
        <p role="alert" class="caution">▲ {{ problem() }}</p>
      }
    </mat-dialog-content>
    <mat-dialog-actions align="end">
      <button i18n matButton type="button" mat-dialog-close [disabled]="busy()">Close</button>
      <button matButton="filled" type="button" class="main" [disabled]="!ready()" (click)="release()">
        <ng-container i18n>Release as</ng-container> {{ service.next() }}
      </button>
    </mat-dialog-actions>
  `,
  styles: `
    ul {
      margin: 0 0 10px;
      padding: 0;
      list-style: none;
      display: grid;
      gap: 4px;
    }
    li {
      display: grid;
      grid-template-columns: 20px 1fr;
    }
    .ok span:first-child {
      color: var(--verdigris);
    }
    .open span:first-child,
    .caution {
      color: var(--caution);
    }
    .fault,
    .fault span:first-child {
      color: var(--oxide);
    }
    .wide {
      width: 100%;
    }
    fieldset {
      border: 1px solid var(--rule);
      margin: 6px 0;
      padding: 4px 10px 8px;
      display: grid;
      grid-template-columns: 1fr 1fr;
    }
    legend {
      padding: 0 4px;
      color: var(--ink-soft);
    }
    p {
      margin: 4px 0;
    }
    .soft {
      color: var(--ink-soft);
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class ReleaseDialog {
  protected readonly service = inject(ReleaseService);
  protected readonly units = inject(UnitsService).now;
  private readonly self = inject<MatDialogRef<ReleaseDialog>>(MatDialogRef);
  protected readonly MARKS = { ok: '✓', open: '▲', fault: '■' } as const;
  protected readonly WORDS = { ok: $localize`In order:`, open: $localize`Open:`, fault: $localize`Fault:` } as const;
  protected readonly PARTS = PARTS;
  protected readonly parts = RELEASE_PARTS;
  private readonly found = signal<Checked | undefined>(undefined);
  protected readonly lines = computed(() => this.found()?.lines);
  protected readonly blocked = computed(() => this.lines()?.some((l) => l.state === 'fault') ?? false);
  protected readonly open = computed(() => this.lines()?.some((l) => l.state === 'open') ?? false);
  protected readonly reason = new FormControl('', { nonNullable: true, validators: [Validators.required, Validators.pattern(/\S/)] });
  private readonly said = toSignal(this.reason.valueChanges, { initialValue: '' });
  protected readonly chosen = signal<ReadonlySet<ReleasePart>>(new Set(RELEASE_PARTS));
  protected readonly problem = signal('');
  protected readonly busy = computed(() => this.service.stage() !== '');
  protected readonly ready = computed(
    () =>
      this.lines() !== undefined &&
      !this.blocked() &&
      !this.busy() &&
      this.service.saved() &&
      this.chosen().size > 0 &&
      (!this.open() || this.said().trim() !== ''),
  );

  constructor() {
    void this.service.check().then(
      (found) => this.found.set(found),
      (e: Error) => this.problem.set(e.message),
    );
  }

  protected choose(part: ReleasePart, on: boolean): void {
    const next = new Set(this.chosen());
    if (on) next.add(part);
    else next.delete(part);
    this.chosen.set(next);
  }
  protected async release(): Promise<void> {
    const found = this.found();
    if (!found) return;
    this.problem.set('');
    this.self.disableClose = true;
    const problem = await this.service.release(found, this.reason.value, this.chosen());
    this.self.disableClose = false;
    if (problem === undefined) this.self.close();
    else this.problem.set(problem);
  }
}
