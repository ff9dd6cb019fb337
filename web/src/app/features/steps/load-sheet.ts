import { ChangeDetectionStrategy, Component, computed, inject, signal } from '@angular/core';
import { MatButton, MatIconButton } from '@angular/material/button';
import { loadSheet, withSheetNamed } from '@unirota/core';
import { FRAME, type Id, type KeptSheet } from '@unirota/core/document';
import { show } from '@unirota/core/units';
import { writeTable } from '@unirota/core/formats';
import { Choice } from '../../ui/choice';
import { type Column, DataTable, type Row } from '../../ui/data-table';
import { downloadCsv, downloadJson } from '../../state/downloads';
import { Icon } from '../../ui/icon';
import { LoadsService } from '../../state/loads.service';
import { UnitsService } from '../../state/units.service';
import { DesignService } from '../../state/design.service';
import { SelectionService } from '../../state/selection.service';
import { ViewService } from '../../state/view.service';
import { CommandsService } from '../../state/commands.service';
import { Strength } from './strength';
import { TextField } from '../../ui/text-field';
import { Named } from '../../ui/named';

const KINDS: Record<string, string> = {
  joint: 'joint',
  coupling: 'coupling',
  load: 'load',
  source: 'source',
  weight: 'weight',
  inertia: 'inertia',
};

/**
 * Everything that acts on one member at the instant, with its points: it
 * adds up to nothing. Taken away as CSV or JSON for strength analysis.
 */
@Component({
  selector: 'uni-load-sheet',
  imports: [Named, TextField, Choice, DataTable, Icon, MatButton, MatIconButton, Strength],
  template: `
    <h2 i18n>Load sheet of a member</h2>
    @if (kept().length) {
      <ul i18n-aria-label class="kept" aria-label="Saved load sheets">
        @for (k of kept(); track k.id) {
          <li [class.selected]="loads.openSheet() === k.id">
            <button matButton class="plain" type="button" (click)="go(k)">{{ k.name }}</button>
            <span class="soft how">{{ k.how }}</span>
            <button matIconButton class="plain" type="button" (click)="commands.remove(k.id, k.name)" i18n-uniName uniName="Delete {{ k.name }}">
              <uni-icon name="del" />
            </button>
          </li>
        }
      </ul>
      @if (opened(); as k) {
        <div class="add">
          <label i18n for="ls-name" class="soft">Name of the sheet</label>
          <uni-text-field inputId="ls-name" needed [value]="k.name" (changed)="rename(k.id, $event)" />
        </div>
      }
    }
    @if (sheet(); as s) {
      <div class="add">
        <uni-choice i18n-label label="Member of the load sheet" [options]="members()" [value]="member()" (picked)="chosen.select('member', $event)" />
        <uni-choice
          i18n-label
          label="Frame of the load sheet"
          [options]="frames"
          [value]="own() ? 'own' : 'world'"
          (picked)="own.set($event === 'own')"
        />
        <button matButton="outlined" type="button" (click)="alone()">{{ isAlone() ? 'Show all again' : 'Show it alone with its arrows' }}</button>
        <button i18n matButton="outlined" type="button" [disabled]="!!doc.readOnly()" (click)="keep()">Save load sheet</button>
        <button i18n matButton="outlined" type="button" (click)="csv()">Save as CSV</button>
        <button i18n matButton="outlined" type="button" (click)="json()">Save as JSON</button>
      </div>
      @if (trouble()) {
        <p class="trouble" role="alert">{{ trouble() }}</p>
      }
      <uni-data-table i18n-label label="Load sheet" [columns]="columns()" [rows]="rows()" none="Nothing acts on it." />
      <p i18n class="soft">
        Sum of the forces {{ sum().force }}, of the moments about the origin {{ sum().moment }}. {{ s.note }}
        @if (s.body.length > 1) {
          Fastened together with it: {{ together() }}.
        }
      </p>
      <uni-strength [sheet]="s" [when]="loads.when()" />
    } @else {
      <p i18n class="soft">There is no moving member yet.</p>
    }
  `,
  styleUrl: './load-sheet.scss',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class LoadSheetView {
  protected readonly doc = inject(DesignService);
  protected readonly chosen = inject(SelectionService);
  protected readonly view = inject(ViewService);
  protected readonly commands = inject(CommandsService);
  protected readonly loads = inject(LoadsService);
  private readonly units = inject(UnitsService).now;
  protected readonly own = signal(true);
  protected readonly frames = [
    { value: 'own', label: $localize`in its own frame` },
    { value: 'world', label: $localize`in the world` },
  ];
  protected readonly members = computed(() => this.doc.design().members.map((m) => ({ value: m.id, label: m.name })));
  protected readonly member = computed(() => {
    const at = this.loads.member();
    return this.doc.design().members.some((m) => m.id === at) ? at : this.doc.design().members[0]?.id;
  });
  protected readonly sheet = computed(() => {
    const { forces, inertia, compiled } = this.loads.now();
    const member = this.member();
    if (member === undefined || !compiled.structure.bodyOf.has(member)) return undefined;
    return loadSheet(forces, member, this.own() ? member : FRAME, inertia);
  });
  protected readonly columns = computed<Column[]>(() => {
    const u = this.units();
    return [
      { key: 'what', label: $localize`What` },
      { key: 'kind', label: $localize`From` },
      { key: 'at', label: $localize`at x, y, z`, unit: u.of('mm'), number: true },
      { key: 'force', label: $localize`Force`, unit: u.of('N'), number: true, tone: 'f' },
      { key: 'moment', label: $localize`Moment`, unit: u.of('N·m'), number: true, tone: 'm' },
    ];
  });
  private readonly most = computed(() => {
    const s = this.sheet();
    const of = (v: readonly number[]): number => Math.hypot(v[0], v[1], v[2]);
    return {
      force: Math.max(1e-9, ...(s?.lines.map((l) => of(l.force)) ?? [])),
      moment: Math.max(1e-9, ...(s?.lines.map((l) => of(l.moment)) ?? [])),
    };
  });
  private vector(v: readonly number[], unit: string, most: number): string {
    const u = this.units();
    return v.map((x) => u.number(Math.abs(x) < 1e-9 * most ? 0 : x, unit, 4)).join(', ');
  }
  protected readonly rows = computed<Row[]>(() => {
    const { force, moment } = this.most();
    return (this.sheet()?.lines ?? []).map((l) => ({
      cells: [
        { text: l.name },
        { text: KINDS[l.kind] ?? l.kind },
        { text: this.vector(l.point, 'mm', 1e3) },
        { text: this.vector(l.force, 'N', force), value: Math.hypot(...l.force) },
        { text: this.vector(l.moment, 'N·m', moment), value: Math.hypot(...l.moment) },
      ],
    }));
  });
  protected readonly sum = computed(() => {
    const s = this.sheet()!;
    const { force, moment } = this.most();
    const u = this.units();
    const text = (v: readonly number[], unit: string, most: number): string => {
      const size = Math.hypot(v[0], v[1], v[2]);
      return u.text(size < 1e-7 * most ? 0 : size, unit, 3);
    };
    const arms = Math.max(...s.lines.map((l) => Math.hypot(...l.point) * 1e-3 * Math.hypot(...l.force)), moment);
    return { force: text(s.sumForce, 'N', force), moment: text(s.sumMoment, 'N·m', arms) };
  });
  protected readonly together = computed(() =>
    this.sheet()!
      .body.filter((b) => b !== this.member())
      .map((b) => this.doc.design().members.find((m) => m.id === b)?.name ?? b)
      .join(', '),
  );
  protected readonly trouble = signal('');
  protected readonly kept = computed(() => {
    const d = this.doc.design();
    const name = (list: readonly { id: Id; name?: string }[] | undefined, id: Id): string => list?.find((x) => x.id === id)?.name ?? id;
    return this.loads.sheets().map((s) => ({
      ...s,
      how: `${name(d.members, s.member)}, ${
        s.run !== undefined
          ? `${show(s.time ?? 0, 4)} s into ${name(d.runs, s.run)}`
          : $localize`where it stood${s.case ? `, ${name(d.cases, s.case)}` : ''}, in steady motion`
      }`,
    }));
  });
  protected readonly opened = computed(() => this.kept().find((k) => k.id === this.loads.openSheet()));
  protected readonly isAlone = computed(() => this.loads.arrows() === 'member' && this.view.hidden().size > 0);

  protected alone(): void {
    const member = this.member();
    if (!member) return;
    if (this.isAlone()) {
      this.view.hidden.set(new Set());
      this.loads.arrows.set('none');
      return;
    }
    this.chosen.select('member', member);
    this.view.isolate([member]);
    this.loads.arrows.set('member');
  }
  protected keep(): void {
    const member = this.member();
    if (member) this.trouble.set(this.loads.keepSheet(member) ?? '');
  }
  protected go(sheet: KeptSheet): void {
    void this.loads.goToSheet(sheet);
  }
  protected rename(id: Id, name: string): void {
    this.trouble.set(this.doc.edit($localize`Rename the load sheet`, (d) => withSheetNamed(d, id, name)) ?? '');
  }
  private name(): string {
    const m = this.doc.design().members.find((x) => x.id === this.member());
    return `${this.doc.design().name} ${m?.name ?? ''} loads`;
  }
  protected csv(): void {
    const s = this.sheet();
    if (!s) return;
    const u = this.units();
    const axes = ['x', 'y', 'z'];
    const heading = [
      $localize`What`,
      $localize`From`,
      ...axes.map((a) => `${a}, ${u.of('mm')}`),
      ...axes.map((a) => `F${a}, ${u.of('N')}`),
      ...axes.map((a) => `M${a}, ${u.of('N·m')}`),
    ];
    const rows = s.lines.map((l) => [
      l.name,
      KINDS[l.kind] ?? l.kind,
      ...l.point.map((x) => u.shown(x, 'mm')),
      ...l.force.map((x) => u.shown(x, 'N')),
      ...l.moment.map((x) => u.shown(x, 'N·m')),
    ]);
    downloadCsv(writeTable(heading, rows), this.name());
  }
  protected json(): void {
    const s = this.sheet();
    if (s) downloadJson({ when: this.loads.when(), units: { length: 'mm', force: 'N', moment: 'N·m', mass: 'kg' }, ...s }, this.name());
  }
}
