import { ChangeDetectionStrategy, Component, Injector, computed, inject } from '@angular/core';
import { MatButton, MatIconButton } from '@angular/material/button';
import { MatRadioButton } from '@angular/material/radio';
import { MatTableModule } from '@angular/material/table';
import { withFactor, withSpeed, withCaseChanged, withCase } from '@unirota/core';
import type { Field, LoadCase } from '@unirota/core/document';
import { AnalysisService } from '../../state/analysis.service';
import { Icon } from '../../ui/icon';
import { loadSize } from '@unirota/core';
import { type Committed, QuantityField } from '../../ui/quantity-field';
import { UnitsService } from '../../state/units.service';
import { DesignService } from '../../state/design.service';
import { MotionService } from '../../state/motion.service';
import { CommandsService } from '../../state/commands.service';
import { TextField } from '../../ui/text-field';
import { motionUnit } from '@unirota/core/units';
import { Named } from '../../ui/named';

const FACTOR: Field = { key: 'factor', label: $localize`Factor`, kind: 'number', min: -1000, max: 1000 };

interface CaseResult {
  text: string;
  tone: '' | 'met' | 'missed';
}
/** A load with its factors, a source with its speeds, or a wanted output with what comes of it, as stated first. */
interface CaseRow {
  id: string;
  name: string;
  stated?: string;
  load?: string;
  source?: string;
  of?: string;
  unit?: string;
  results?: CaseResult[];
}

/**
 * Load cases side by side: how much of each load acts and how fast each
 * source runs, and what comes of it for the wanted outputs, the worst named.
 */
@Component({
  selector: 'uni-load-cases',
  imports: [Named, Icon, MatButton, MatIconButton, MatRadioButton, MatTableModule, QuantityField, TextField],
  template: `
    @if (cases().length) {
      <table i18n-aria-label mat-table [dataSource]="rows()" [trackBy]="byId" aria-label="Load cases">
        <ng-container matColumnDef="what">
          <th i18n mat-header-cell *matHeaderCellDef>Shown</th>
          <td mat-cell *matCellDef="let r">{{ r.name }}</td>
        </ng-container>
        <ng-container matColumnDef="stated">
          <th mat-header-cell *matHeaderCellDef class="num">
            <mat-radio-button i18n name="case" [checked]="!doc.loadCase()" (change)="doc.loadCase.set(undefined)">As stated</mat-radio-button>
          </th>
          <td mat-cell *matCellDef="let r" class="num" [class]="r.results?.[0]?.tone ?? ''">{{ r.results?.[0]?.text ?? r.stated }}</td>
        </ng-container>
        @for (c of cases(); track c.id; let k = $index) {
          <ng-container [matColumnDef]="columnOf(c)">
            <th mat-header-cell *matHeaderCellDef class="num">
              <span class="case">
                <mat-radio-button
                  name="case"
                  [checked]="doc.loadCase() === c.id"
                  (change)="doc.loadCase.set(c.id)"
                  i18n-aria-label
                  aria-label="Show {{ c.name }}"
                />
                <uni-text-field
                  class="name"
                  i18n-label
                  label="Name of the case {{ c.name }}"
                  [longest]="120"
                  needed
                  [value]="c.name"
                  (changed)="rename(c, $event)"
                />
                <button matIconButton type="button" class="plain" i18n-uniName uniName="Delete {{ c.name }}" (click)="drop(c)">
                  <uni-icon name="del" />
                </button>
              </span>
            </th>
            <td mat-cell *matCellDef="let r" class="num" [class]="r.results?.[k + 1]?.tone ?? ''">
              @if (r.load) {
                <uni-quantity-field [field]="factorField(r.name, c.name)" [value]="factorOf(c, r.load)" (committed)="factor(c, r.load, $event)" />
              } @else if (r.source) {
                <uni-quantity-field
                  [field]="speedField(r.of, c.name, r.unit)"
                  [value]="speedOf(c, r.source)"
                  (committed)="speed(c, r.source, $event)"
                />
              } @else {
                {{ r.results?.[k + 1]?.text }}
              }
            </td>
          </ng-container>
        }
        <tr mat-header-row *matHeaderRowDef="shown()"></tr>
        <tr mat-row *matRowDef="let r; columns: shown()" [class.result]="r.results"></tr>
      </table>
      @if (worst(); as w) {
        <p class="soft" role="status">{{ w }}</p>
      }
    } @else {
      <p i18n class="soft">
        One set of loads and speeds. A load case is another: lifting, holding, lowering, each with loads scaled or left out and its own speeds.
      </p>
    }
    <div class="add">
      <button i18n matButton="outlined" type="button" (click)="add()"><uni-icon name="add" /> Load case</button>
    </div>
  `,
  styleUrl: './step.scss',
  styles: `
    :host {
      padding: 0;
      overflow: visible;
    }
    th.num,
    td.num {
      text-align: right;
    }
    .case {
      display: inline-flex;
      align-items: center;
    }
    .name {
      width: 110px;
    }
    td uni-quantity-field {
      display: inline-block;
      width: 126px;
      text-align: left;
    }
    .result td {
      background: var(--sunk);
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class LoadCases {
  protected readonly doc = inject(DesignService);
  protected readonly motion = inject(MotionService);
  protected readonly commands = inject(CommandsService);
  protected readonly units = inject(UnitsService).now;
  protected readonly cases = computed(() => this.doc.design().cases ?? []);
  private slides(joint: string): boolean {
    const { structure } = this.motion.worked().compiled;
    const i = structure.firstOf.get(joint.split(':')[0]);
    return i !== undefined && structure.coordinates[i]?.motion === 'slide';
  }
  protected readonly loads = computed(() =>
    this.doc.design().loads.map((l) => {
      const joint = 'joint' in l && typeof l.joint === 'string' ? l.joint : undefined;
      return { id: l.id, name: l.name, size: loadSize(l, joint !== undefined && this.slides(joint), this.units()) };
    }),
  );
  protected readonly sources = computed(() =>
    this.doc.design().sources.map((s) => {
      const unit = motionUnit(this.slides(s.joint)).speed;
      return { id: s.id, name: s.name, speed: this.units().text(s.speed ?? 0, unit), unit };
    }),
  );

  /** A case may be called as one of the other columns is. */
  protected columnOf(c: LoadCase): string {
    return `case ${c.id}`;
  }
  protected readonly shown = computed(() => ['what', 'stated', ...this.cases().map((c) => this.columnOf(c))]);
  protected readonly rows = computed((): CaseRow[] => [
    ...this.loads().map((l) => ({ id: l.id, name: l.name, stated: l.size, load: l.id })),
    ...this.sources().map((s) => ({ id: s.id, name: $localize`Speed of ${s.name}`, stated: s.speed, source: s.id, of: s.name, unit: s.unit })),
    ...this.results().map((r) => ({
      id: r.id,
      name: r.name,
      results: r.values.map((v): CaseResult => ({ text: v.text, tone: v.met ? 'met' : v.known ? 'missed' : '' })),
    })),
  ]);
  protected readonly byId = (_: number, r: CaseRow): string => r.id;

  protected factorField(load: string, name: string): Field {
    return { ...FACTOR, label: $localize`${load}, factor in ${name}` };
  }
  protected speedField(source: string, name: string, unit: string): Field {
    return { key: 'speed', label: $localize`Speed of ${source} in ${name}`, kind: 'number', unit, min: -1e6, max: 1e6 };
  }
  protected factorOf(c: LoadCase, load: string): number {
    return c.loads?.find((x) => x.load === load)?.factor ?? 1;
  }
  protected speedOf(c: LoadCase, source: string): number | undefined {
    return c.speeds?.find((x) => x.source === source)?.speed ?? this.doc.design().sources.find((s) => s.id === source)?.speed;
  }
  private change(id: string, what: string, to: (c: LoadCase) => LoadCase): void {
    this.doc.edit(what, (d) => withCaseChanged(d, id, to));
  }
  protected factor(c: LoadCase, load: string, to: Committed): void {
    const value = to.value === undefined || Number(to.value) === 1 ? undefined : Number(to.value);
    if (this.factorOf(c, load) !== (value ?? 1)) this.change(c.id, $localize`Factor in ${c.name}`, (x) => withFactor(x, load, value));
  }
  protected speed(c: LoadCase, source: string, to: Committed): void {
    const value = to.value === undefined ? undefined : Number(to.value);
    if (this.speedOf(c, source) !== value) this.change(c.id, $localize`Speed in ${c.name}`, (x) => withSpeed(x, source, value));
  }
  protected rename(c: LoadCase, name: string): void {
    this.change(c.id, $localize`Rename the load case`, (x) => ({ ...x, name }));
  }
  protected add(): void {
    this.doc.edit($localize`Add a load case`, withCase);
  }
  protected drop(c: LoadCase): void {
    if (this.doc.loadCase() === c.id) this.doc.loadCase.set(undefined);
    this.commands.remove(c.id, c.name);
  }

  /** The wanted outputs in every case, as stated first. */
  private readonly answer = inject(AnalysisService).casesOf(this.doc.design, inject(Injector));
  private readonly judged = computed(() => this.answer()?.is ?? []);
  protected readonly results = computed(() =>
    (this.answer()?.of.wanted ?? []).map((w, k) => ({
      id: w.id,
      name: w.name,
      values: this.judged().map((all) => {
        const r = all[k];
        const known = r?.value !== undefined;
        return { text: known ? `${r.met ? '✓' : '✗'} ${this.units().text(r.value!, r.unit, 4)}` : (r?.because ?? '–'), met: r?.met ?? false, known };
      }),
    })),
  );
  /** Which case is worst for what is missed, or asks most of the source. */
  protected readonly worst = computed(() => {
    if (!this.judged().length) return '';
    const names = [$localize`as stated`, ...this.cases().map((c) => c.name)];
    const missed = this.judged().flatMap((all, k) =>
      all.filter((r) => r.value !== undefined && !r.met).map((r) => ({ k, by: Math.abs(r.off ?? 0), unit: r.unit, wanted: r.wanted })),
    );
    if (!missed.length) return $localize`All wanted outputs are met in every case.`;
    const name = (id: string): string => this.doc.design().wanted.find((w) => w.id === id)?.name ?? id;
    return missed
      .filter((m) => !missed.some((x) => x.wanted === m.wanted && x.by > m.by))
      .map((m) => `${name(m.wanted)} is missed most in ${names[m.k]}, by ${this.units().text(m.by, m.unit, 3)}`)
      .join('; ');
  });
}
