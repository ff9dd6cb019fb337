import { ChangeDetectionStrategy, Component, computed, inject } from '@angular/core';
import { MatButton, MatIconButton } from '@angular/material/button';
import { MatCheckbox } from '@angular/material/checkbox';
import { FRAME, LOAD_KINDS, SOURCE_KINDS, WANTED_KINDS, type WantedOutput } from '@unirota/core/document';
import { type ActingLoad, freshId, idsOf, stillNeeded, withoutGaps } from '@unirota/core';
import { LoadCases } from './load-cases';
import { loadSize } from '../shared/load-size';
import { show } from '@unirota/core/units';
import { Icon } from '../shared/icon';
import { UnitsService } from '../services/units.service';
import { WorkbenchStore } from '../workbench/workbench.store';

/** Duty: what drives, and what is wanted of the train. */
@Component({
  selector: 'uni-duty',
  imports: [MatIconButton, MatButton, Icon, LoadCases, MatCheckbox],
  template: `
    <section>
      <h2>Sources</h2>
      <table>
        <thead>
          <tr>
            <th>Source</th>
            <th>Kind</th>
            <th>Drives</th>
            <th class="num">Nominal speed</th>
            <th class="num">Needs</th>
            <th class="num">Power</th>
            <th></th>
          </tr>
        </thead>
        <tbody>
          @for (s of sources(); track s.id) {
            <tr [class.selected]="store.selection()?.id === s.id" (click)="store.select('source', s.id)">
              <td>
                <button matButton type="button" class="plain" (click)="store.select('source', s.id)">{{ s.name }}</button>
              </td>
              <td>{{ s.kind }}</td>
              <td>{{ s.drives }}</td>
              <td class="num">{{ s.speed }}</td>
              <td class="num">{{ s.needs }}</td>
              <td class="num">{{ s.power }}</td>
              <td>
                <button
                  matIconButton
                  type="button"
                  class="plain"
                  [attr.aria-label]="'Delete ' + s.name"
                  (click)="remove(s.id, s.name); $event.stopPropagation()"
                >
                  <uni-icon name="del" />
                </button>
              </td>
            </tr>
          } @empty {
            <tr>
              <td colspan="7" class="soft">
                Nothing drives this design yet.
                {{ joints().length ? 'Choose what drives.' : 'Choose what drives: an input shaft comes with it, and the train grows from there.' }}
              </td>
            </tr>
          }
        </tbody>
      </table>
      <div class="add">
        @for (k of sourceKinds; track k.type) {
          <button matButton="outlined" type="button" (click)="addSource(k.type, k.label)"><uni-icon name="add" /> {{ k.label }}</button>
        }
      </div>
    </section>
    <section>
      <h2>Loads</h2>
      <table>
        <thead>
          <tr>
            <th>Load</th>
            <th>Kind</th>
            <th>Acts on</th>
            <th class="num">Size</th>
            <th></th>
          </tr>
        </thead>
        <tbody>
          @for (l of loads(); track l.id) {
            <tr [class.selected]="store.selection()?.id === l.id" (click)="store.select('load', l.id)">
              <td>
                <button matButton type="button" class="plain" (click)="store.select('load', l.id)">{{ l.name }}</button>
              </td>
              <td>{{ l.kind }}</td>
              <td>{{ l.on }}</td>
              <td class="num">{{ l.size }}</td>
              <td>
                <button
                  matIconButton
                  type="button"
                  class="plain"
                  [attr.aria-label]="'Delete ' + l.name"
                  (click)="remove(l.id, l.name); $event.stopPropagation()"
                >
                  <uni-icon name="del" />
                </button>
              </td>
            </tr>
          } @empty {
            <tr>
              <td colspan="5" class="soft">
                Nothing loads this train{{ store.weight() ? ' but its own weight' : '' }}. Add what it has to move or to hold; select a member or a
                joint first, and it acts there.
              </td>
            </tr>
          }
        </tbody>
      </table>
      <div class="add">
        @for (k of loadKinds; track k.type) {
          <button matButton="outlined" type="button" (click)="addLoad(k.type)"><uni-icon name="add" /> {{ k.label }}</button>
        }
        <mat-checkbox [checked]="store.weight()" (change)="store.setWeight($event.checked)">Weight counts</mat-checkbox>
      </div>
    </section>
    <section>
      <h2>Load cases</h2>
      <uni-load-cases />
    </section>
    <section>
      <h2>Wanted outputs</h2>
      <table>
        <thead>
          <tr>
            <th>Wanted</th>
            <th>What</th>
            <th>Of</th>
            <th class="num">Target</th>
            <th class="num">Tolerance</th>
            <th class="num">Reached</th>
            <th>Result</th>
            <th></th>
          </tr>
        </thead>
        <tbody>
          @for (w of wanted(); track w.id) {
            <tr [class.selected]="store.selection()?.id === w.id" (click)="store.select('wanted', w.id)">
              <td>
                <button matButton type="button" class="plain" (click)="store.select('wanted', w.id)">{{ w.name }}</button>
              </td>
              <td>{{ w.what }}</td>
              <td>{{ w.of }}</td>
              <td class="num">{{ w.target }}</td>
              <td class="num">{{ w.tolerance }}</td>
              <td class="num">{{ w.reached }}</td>
              <td [class.met]="w.met" [class.missed]="!w.met && w.reached !== '–'">{{ w.result }}</td>
              <td>
                <button
                  matIconButton
                  type="button"
                  class="plain"
                  [attr.aria-label]="'Delete ' + w.name"
                  (click)="remove(w.id, w.name); $event.stopPropagation()"
                >
                  <uni-icon name="del" />
                </button>
              </td>
            </tr>
          } @empty {
            <tr>
              <td colspan="8" class="soft">Nothing is wanted yet: state what the outputs must do, and every stage shows whether they do it.</td>
            </tr>
          }
        </tbody>
      </table>
      <div class="add">
        @for (k of wantedKinds; track k.type) {
          <button matButton="outlined" type="button" (click)="addWanted(k.type, k.label)"><uni-icon name="add" /> {{ k.label }}</button>
        }
      </div>
    </section>
  `,
  styleUrl: './step.scss',
  host: { tabindex: '0' },
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class DutyStep {
  protected readonly store = inject(WorkbenchStore);
  protected readonly units = inject(UnitsService).now;
  protected readonly sourceKinds = SOURCE_KINDS;
  protected readonly wantedKinds = WANTED_KINDS;
  protected readonly joints = computed(() => this.store.design().joints);

  private slides(joint: unknown): boolean {
    const w = this.store.worked().compiled.structure;
    const i = w.firstOf.get(String(joint ?? '').split(':')[0]);
    return i !== undefined && w.coordinates[i]?.motion === 'slide';
  }
  private jointName(ref: unknown): string {
    const j = this.joints().find((x) => x.id === String(ref ?? '').split(':')[0]);
    return j?.name ?? j?.id ?? '–';
  }
  protected readonly sources = computed(() =>
    this.store.design().sources.map((s) => {
      const r = this.store.ledger().sources.find((x) => x.source === s.id);
      const slide = this.slides(s.joint);
      return {
        id: s.id,
        name: s.name,
        kind: SOURCE_KINDS.find((k) => k.type === s.type)?.label ?? s.type,
        drives: this.jointName(s.joint),
        speed: r ? this.units().text(r.speed, slide ? 'mm/s' : 'rev/min') : '–',
        needs: r ? this.units().text(r.load, slide ? 'N' : 'N·m', 4) : '–',
        power: r ? this.units().text(r.power, 'W', 4) : '–',
      };
    }),
  );
  protected readonly wanted = computed(() =>
    this.store.design().wanted.map((w: WantedOutput) => {
      const r = this.store.ledger().wanted.find((x) => x.wanted === w.id);
      const unit = r?.unit ?? '';
      return {
        id: w.id,
        name: w.name,
        what: WANTED_KINDS.find((k) => k.type === w.type)?.label ?? w.type,
        of: w.source ? (this.store.design().sources.find((s) => s.id === w.source)?.name ?? '–') : this.jointName(w.joint),
        target: `${w.sense === 'at least' ? '≥ ' : w.sense === 'at most' ? '≤ ' : ''}${this.units().text(Number(w.value), unit)}`,
        tolerance: `± ${this.units().text(Number(w.tolerance ?? 0), unit)}`,
        reached: r?.value === undefined ? '–' : this.units().text(r.value, unit),
        met: r?.met ?? false,
        result:
          r?.value === undefined ? (this.left(w.id) ?? r?.because ?? '') : r.met ? '✓ met' : `✗ missed by ${this.units().text(r.off ?? 0, unit, 3)}`,
      };
    }),
  );

  protected readonly loadKinds = LOAD_KINDS;
  protected readonly loads = computed(() => {
    const d = this.store.design();
    const memberName = (id: string | undefined): string =>
      id === undefined || id === FRAME ? 'the frame' : (d.members.find((m) => m.id === id)?.name ?? id);
    return d.loads.map((l: ActingLoad) => ({
      id: l.id,
      name: l.name,
      kind: LOAD_KINDS.find((k) => k.type === l.type)?.label ?? l.type,
      on: l.joint ? this.jointName(l.joint) : l.type === 'spring' ? `${memberName(l.member)} and ${memberName(l.other)}` : memberName(l.member),
      size: loadSize(l, l.joint !== undefined && this.slides(l.joint), this.units()),
    }));
  });
  protected addLoad(type: string): void {
    const s = this.store.selection();
    const element = s?.kind === 'element' ? this.store.design().elements.find((e) => e.id === s.id) : undefined;
    this.store.addLoad(
      type,
      s?.kind === 'joint' ? { joint: s.id } : s?.kind === 'member' ? { member: s.id } : element ? { member: element.member } : {},
    );
  }

  /** What is still needed for a wanted speed, behind the member that was built last. */
  private left(wanted: string): string | undefined {
    const lines = this.store.ledger().lines;
    const last = [...lines].reverse().find((l) => l.motion === 'turn' && l.speed !== 0);
    const n = last && stillNeeded(this.store.design(), lines, last.member).find((x) => x.wanted === wanted);
    if (!n) return undefined;
    const name = this.store.design().members.find((m) => m.id === last.member)?.name ?? last.member;
    return `still needed behind ${name}: ${n.kind === 'travel' ? this.units().text(n.ratio, 'mm/rev') : `${show(n.ratio, 5)} : 1`}`;
  }

  private fresh(prefix: string): string {
    return freshId(idsOf(this.store.design()), prefix);
  }
  protected addSource(type: string, label: string): void {
    const fields: Record<string, unknown> =
      type === 'torque'
        ? { torque: 10, speed: 60 }
        : type === 'power'
          ? { power: 100, speed: 60 }
          : type === 'torque-line'
            ? { stall: 10, noLoad: 1500, speed: undefined }
            : {};
    if (!this.joints().length) return this.store.beginWith(type, label, fields);
    const id = this.fresh('source');
    const taken = new Set(this.store.design().sources.map((s) => s.joint));
    const joint = this.joints().find((j) => !taken.has(j.id) && j.type !== 'fixed') ?? this.joints()[0];
    this.store.edit(`Add ${label.toLowerCase()}`, (d) => {
      const made = { id, name: label, type, joint: joint.id, speed: this.slides(joint.id) ? 10 : 60, ...fields };
      return { ...d, sources: [...d.sources, withoutGaps(made)] };
    });
    this.store.select('source', id);
  }
  private jointFor(type: string): string | undefined {
    const slide = type === 'linear-speed' || type === 'travel' || type === 'force';
    const any = type === 'time';
    return [...this.joints()].reverse().find((j) => j.type !== 'fixed' && (any || this.slides(j.id) === slide))?.id;
  }
  protected addWanted(type: string, label: string): void {
    const id = this.fresh('wanted');
    // What the train does not have yet is left open: the next stage that fits takes it up.
    const source = this.store.design().sources[0]?.id,
      joint = this.jointFor(type);
    const of = type === 'input-torque' || type === 'hand-force' ? (source ? { source } : {}) : joint ? { joint } : {};
    this.store.edit(`Add wanted ${label.toLowerCase()}`, (d) => ({
      ...d,
      wanted: [...d.wanted, { id, name: label, type, ...of, value: 0, tolerance: 0 }],
    }));
    this.store.select('wanted', id);
  }
  protected remove(id: string, name: string): void {
    this.store.remove(id, name);
  }
}
