import { ChangeDetectionStrategy, Component, DestroyRef, computed, effect, inject, input, linkedSignal, signal } from '@angular/core';
import { toSignal } from '@angular/core/rxjs-interop';
import { FormControl, FormGroup, ReactiveFormsModule } from '@angular/forms';
import { MatButton } from '@angular/material/button';
import { MatCheckbox } from '@angular/material/checkbox';
import { MatProgressBar } from '@angular/material/progress-bar';
import { type Subscription, map } from 'rxjs';
import { type LoadSheet, STEEL, type StressField, loadSheet, strengthBody, suggestedSize, withStrength } from '@unirota/core';
import { type Field, mechanicsMark } from '@unirota/core/document';
import { show, listed } from '@unirota/core/units';
import { STRENGTH_FIELDS, type StrengthNews, type StrengthResult } from '@unirota/contract/strength';
import { ApiService, ServerTrouble } from '../../state/api.service';
import { downloadFile } from '../../state/downloads';
import { UnitsService } from '../../state/units.service';
import { QuantityField, quantityControl } from '../../ui/quantity-field';
import { LoadsService } from '../../state/loads.service';
import { StressPicture } from './stress-picture';
import { DesignService } from '../../state/design.service';
import { MotionService } from '../../state/motion.service';

const STEPS: Record<Extract<StrengthNews, { step: string }>['step'], string> = {
  waiting: $localize`Waits for its turn …`,
  installing: $localize`Looks for gmsh and CalculiX, and installs them where they are missing …`,
  meshing: $localize`gmsh meshes the member …`,
  placing: $localize`Puts the load sheet on the mesh …`,
  solving: 'CalculiX solves it …',
};
/** What was made, of which state of the design and of which forces. */
type Made = StrengthResult & { of: string; mark: string; sheet: string; with: { size: number; young: number; poisson: number } };

/**
 * Has the server mesh the member of the load sheet and put the sheet on it: an
 * input deck for strength analysis, and on demand what the open solver finds.
 */
@Component({
  selector: 'uni-strength',
  imports: [StressPicture, MatButton, MatCheckbox, MatProgressBar, QuantityField, ReactiveFormsModule],
  template: `
    <h3 i18n>For strength analysis</h3>
    @if (body(); as b) {
      @if (b.left.length) {
        <p i18n class="caution" role="status">▲ Imported shapes are no part of the strength model: {{ b.left.join(', ') }}.</p>
      }
      <div class="add">
        <label i18n for="st-size">Elements of about</label>
        <uni-quantity-field inputId="st-size" [field]="fields[0]" [control]="form.controls.size" />
        <label i18n for="st-young">Young’s modulus</label>
        <uni-quantity-field inputId="st-young" [field]="fields[1]" [control]="form.controls.young" />
        <label i18n for="st-poisson">Poisson’s ratio</label>
        <uni-quantity-field inputId="st-poisson" [field]="fields[2]" [control]="form.controls.poisson" />
        <label i18n for="st-yield">Yield strength</label>
        <uni-quantity-field inputId="st-yield" [field]="yieldField" [value]="yieldStrength()" (committed)="yieldStrength.set(+($event.value ?? 0))" />
        <mat-checkbox i18n [formControl]="form.controls.solve">Solve it as well</mat-checkbox>
        @if (running()) {
          <button i18n matButton="outlined" type="button" (click)="end()">End it</button>
        } @else {
          <button i18n matButton="outlined" type="button" [disabled]="!b.parts.length || !ready()" (click)="make()">
            Mesh it and put the sheet on it
          </button>
        }
      </div>
      <p i18n class="soft" role="status">
        @if (running(); as step) {
          {{ steps[step] }}
        } @else if (trouble()) {
          <span class="trouble">{{ trouble() }}</span>
        } @else if (!made()) {
          Its bodies without teeth and threads become second-order tetrahedra (gmsh); each line of the sheet goes to the faces nearest its point so
          that it sums exactly; six soft supports that carry nothing hold it. The deck runs in CalculiX (ccx) as it is.
        }
      </p>
      @if (running()) {
        <mat-progress-bar i18n-aria-label mode="indeterminate" aria-label="Strength model" />
      }
      @if (made(); as m) {
        <div class="add">
          <span i18n>
            {{ m.of }}: {{ m.nodes }} nodes, {{ m.elements }} elements.
            @if (m.answer; as a) {
              Greatest equivalent stress {{ units().text(a.stress, 'MPa', 3) }} at {{ place(a.at) }}; its shape changes by
              {{ units().text(a.change, 'mm', 3) }} at most; the supports carry {{ units().text(a.carried < 1e-3 ? 0 : a.carried, 'N', 2) }}.
            }
          </span>
          <button i18n matButton="outlined" type="button" (click)="save()">Save the deck</button>
          @if (m.answer && !doc.readOnly()) {
            <button i18n matButton="outlined" type="button" (click)="keepResult()">Save result with the load sheet</button>
          }
        </div>
        @if (m.answer; as a) {
          <p role="status">{{ safetyText(a.stress, yieldStrength()) }}</p>
        }
        @if (stale(); as why) {
          <p class="caution" role="status">▲ {{ why }}</p>
        }
        @if (field(); as f) {
          @defer (on immediate) {
            <uni-stress-picture [field]="f" [greatest]="m.answer!" [name]="m.of" />
          }
        }
        @for (t of m.ties; track $index) {
          <p i18n class="soft">
            {{ listed(t.names) }} do not touch ({{ units().text(t.gap, 'mm', 2) }} apart by the mesh): held together where they come nearest.
          </p>
        }
        @for (s of far(); track $index) {
          <p i18n class="soft">{{ s.name }} acts {{ units().text(s.away, 'mm', 3) }} off the body: spread over the faces that are nearest.</p>
        }
      }
      @if (saved(); as s) {
        <p i18n role="status">
          Saved with the sheet “{{ s.name }}”: greatest equivalent stress {{ units().text(s.stress ?? 0, 'MPa', 3) }}, change of shape
          {{ units().text(s.change ?? 0, 'mm', 3) }}; {{ safetyText(s.stress ?? 0, s.yieldStrength ?? 0) }}
          @if (s.madeOf !== mark()) {
            <b class="caution">▲ The design has changed since.</b>
          }
        </p>
      }
    } @else {
      <p i18n class="soft">A member that stands still with the frame has no load sheet that adds up: choose one that moves.</p>
    }
  `,
  styleUrl: './section.scss',
  styles: `
    uni-quantity-field {
      width: 132px;
    }
    mat-progress-bar {
      margin-bottom: 8px;
    }
    .caution {
      color: var(--caution);
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class Strength {
  protected readonly doc = inject(DesignService);
  protected readonly motion = inject(MotionService);
  private readonly api = inject(ApiService);
  private readonly loads = inject(LoadsService);
  protected readonly units = inject(UnitsService).now;
  readonly sheet = input.required<LoadSheet>();
  readonly when = input.required<string>();
  protected readonly steps = STEPS;
  protected readonly fields = STRENGTH_FIELDS;
  protected readonly listed = listed;
  /** The body depends on what the design is made of, not on the instant. */
  private readonly member = computed(() => this.sheet().member);
  protected readonly body = computed(() => strengthBody(this.motion.worked().compiled, this.member()));
  protected readonly form = new FormGroup({
    size: quantityControl(5),
    young: quantityControl(STEEL.young),
    poisson: quantityControl(STEEL.poisson),
    solve: new FormControl(true, { nonNullable: true }),
  });
  protected readonly ready = toSignal(this.form.statusChanges.pipe(map((s) => s === 'VALID')), { initialValue: true });
  protected readonly running = signal<keyof typeof STEPS | undefined>(undefined);
  protected readonly trouble = linkedSignal(() => (this.member(), ''));
  protected readonly made = linkedSignal<Made | undefined>(() => (this.member(), undefined));
  /** Lines whose point is farther from the body than the body is thick. */
  protected readonly far = computed(() => (this.made()?.sets ?? []).filter((s) => s.away > 3 * Math.max(this.asked(), this.body()?.thinnest ?? 0)));
  private readonly asked = signal(0);
  protected readonly yieldField: Field = { key: 'yield', label: $localize`Yield strength`, kind: 'number', unit: 'MPa', above: 0, max: 1e7 };
  /**
   * Of the material, as stated by the designer; structural steel S235 to begin with (EN 10025-2, up to 16 mm; from memory).
   * MPa
   */
  protected readonly yieldStrength = signal(235);
  protected safetyText(stress: number, most: number): string {
    if (!(stress > 0) || !(most > 0)) return '';
    const safety = most / stress;
    return $localize`Safety against yielding ${show(safety, 3)} at ${this.units().text(most, 'MPa', 4)}${safety < 1 ? ': it yields' : ''}.`;
  }
  /** The stress on the mesh, unpacked. */
  protected readonly field = computed<StressField | undefined>(() => {
    const f = this.made()?.answer?.field;
    if (!f) return undefined;
    const bytes = (text: string): ArrayBuffer => Uint8Array.from(atob(text), (c) => c.charCodeAt(0)).buffer;
    return {
      points: new Float32Array(bytes(f.points)),
      stress: new Float32Array(bytes(f.stress)),
      change: new Float32Array(bytes(f.change)),
      tets: new Uint32Array(bytes(f.tets)),
      skin: new Uint32Array(bytes(f.skin)),
    };
  });
  protected readonly mark = computed(() => mechanicsMark(this.doc.design()));
  /** Why what was found is no longer of what is shown. */
  protected readonly stale = computed(() => {
    const m = this.made();
    if (!m) return '';
    if (m.mark !== this.mark()) return $localize`The design has changed since.`;
    return m.sheet === this.sheetMark() ? '' : $localize`The position or the instant has changed since: the forces are others.`;
  });
  /** The forces of the sheet, as a mark. */
  private readonly sheetMark = computed(() =>
    this.sheet()
      .lines.map((l) => [...l.force, ...l.moment].map((x) => Number(x.toPrecision(6))).join())
      .join(),
  );
  /** The load sheet that is open, where it has a result of this member. */
  protected readonly saved = computed(() => {
    const s = this.loads.sheets().find((x) => x.id === this.loads.openSheet());
    return s?.stress !== undefined && s.member === this.member() ? s : undefined;
  });
  protected keepResult(): void {
    const m = this.made();
    if (!m?.answer) return;
    const open = this.loads.sheets().find((x) => x.id === this.loads.openSheet() && x.member === this.member());
    const trouble = open ? undefined : this.loads.keepSheet(this.member());
    const id = open?.id ?? this.loads.openSheet();
    if (trouble || id === undefined) return this.trouble.set(trouble ?? $localize`The load sheet could not be kept.`);
    const { size, young, poisson } = m.with;
    const { stress, at, change } = m.answer;
    const found = { stress, stressAt: at, change, yieldStrength: this.yieldStrength(), size, young, poisson, madeOf: m.mark };
    this.trouble.set(this.doc.edit($localize`Save the strength result`, (d) => withStrength(d, id, found)) ?? '');
  }
  private job: Subscription | undefined;

  constructor() {
    effect(() => {
      const b = this.body();
      if (b?.parts.length) this.form.controls.size.setValue(suggestedSize(b));
    });
    inject(DestroyRef).onDestroy(() => this.job?.unsubscribe());
  }

  protected place(at: readonly number[]): string {
    const u = this.units();
    return `${at.map((x) => show(u.shown(x, 'mm'), 3)).join(', ')} ${u.of('mm')} in its frame`;
  }

  protected make(): void {
    const { forces, inertia } = this.loads.now();
    const member = this.member();
    const { lines } = loadSheet(forces, member, member, inertia);
    const design = this.doc.design();
    const { size, young, poisson, solve } = this.form.getRawValue();
    this.asked.set(Number(size));
    const of = `${this.body()?.name ?? ''} ${this.when()}`;
    const [mark, sheet] = [this.mark(), this.sheetMark()];
    this.trouble.set('');
    this.made.set(undefined);
    this.running.set('waiting');
    this.job?.unsubscribe();
    this.job = this.api.strength({ design, member, lines, size: Number(size), young: Number(young), poisson: Number(poisson), solve }).subscribe({
      next: (news) => {
        if ('step' in news) this.running.set(news.step);
        else if ('problem' in news) this.trouble.set(news.problem);
        else this.made.set({ ...news.done, of, mark, sheet, with: { size: Number(size), young: Number(young), poisson: Number(poisson) } });
      },
      error: (e: unknown) => {
        this.running.set(undefined);
        const more = e instanceof ServerTrouble ? (e.problem?.problems?.[0]?.message ?? '') : '';
        this.trouble.set(`${(e as Error).message}${more ? `: ${more}` : ''}.`);
      },
      complete: () => {
        this.running.set(undefined);
        if (!this.made() && !this.trouble()) this.trouble.set($localize`The server was cut off: try again.`);
      },
    });
  }
  protected end(): void {
    this.job?.unsubscribe();
    this.running.set(undefined);
    this.trouble.set($localize`Ended.`);
  }
  protected save(): void {
    const m = this.made();
    if (m) downloadFile(new Blob([m.deck], { type: 'text/plain' }), `${this.doc.design().name} ${this.body()?.name ?? ''}`, 'inp');
  }
}
