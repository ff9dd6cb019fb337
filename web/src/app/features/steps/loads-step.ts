import { ChangeDetectionStrategy, Component, computed, inject, signal } from '@angular/core';
import { MatButtonToggle, MatButtonToggleGroup } from '@angular/material/button-toggle';
import { MatCheckbox } from '@angular/material/checkbox';
import { bearingForces, framesAround, reactionAt } from '@unirota/core';
import { FRAME, type Id } from '@unirota/core/document';
import { norm } from '@unirota/core/math';
import { Choice } from '../../ui/choice';
import { type Cell, type Column, DataTable, type Row } from '../../ui/data-table';
import { LoadsService } from '../../state/loads.service';
import { RunService } from '../../state/run.service';
import { UnitsService } from '../../state/units.service';
import { DesignService } from '../../state/design.service';
import { SelectionService } from '../../state/selection.service';
import { LoadSheetView } from './load-sheet';
import { Needed } from './needed';
import { RunBar } from './run-bar';
import { ShaftLoads } from './shaft-loads';
import { Worst } from './worst';

/**
 * Loads: what the sources must give, the worst instants, and at the instant that is
 * looked at the forces of couplings, joints, springs and stops, and on one member.
 */
@Component({
  selector: 'uni-loads',
  imports: [Choice, DataTable, LoadSheetView, MatButtonToggle, MatButtonToggleGroup, MatCheckbox, Needed, RunBar, ShaftLoads, Worst],
  templateUrl: './loads-step.html',
  styleUrl: './step.scss',
  styles: `
    .add {
      align-items: center;
      margin: 4px 0 6px;
    }
  `,
  host: { tabindex: '0' },
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class LoadsStep {
  protected readonly doc = inject(DesignService);
  protected readonly chosen = inject(SelectionService);
  protected readonly runs = inject(RunService);
  protected readonly loads = inject(LoadsService);
  protected readonly units = inject(UnitsService).now;
  protected readonly frame = signal<'world' | 'member' | 'carrier'>('world');
  protected readonly moments = signal(false);
  protected readonly frames = [
    { value: 'world', label: $localize`in world directions` },
    { value: 'member', label: $localize`in the frame of the carried member` },
    { value: 'carrier', label: $localize`in the frame of its carrier` },
  ];
  protected readonly name = computed(() => this.doc.design().name);
  protected readonly scaleText = computed(() => {
    const { force, moment } = this.loads.scale();
    const u = this.units();
    return [force ? $localize`longest arrow ${u.text(force, 'N', 3)}` : '', moment ? $localize`largest bow ${u.text(moment, 'N·m', 3)}` : '']
      .filter(Boolean)
      .join(', ');
  });

  private cell(x: number, unit: string, most: number): Cell {
    const v = Math.abs(x) < 1e-9 * most ? 0 : x;
    return { text: this.units().number(v, unit, 4), value: this.units().shown(v, unit) };
  }

  protected readonly couplingColumns = computed<Column[]>(() => {
    const [n, w] = [this.units().of('N'), this.units().of('W')];
    return [
      { key: 'name', label: $localize`Coupling` },
      { key: 't', label: $localize`Tangential`, unit: n, number: true },
      { key: 'r', label: $localize`Radial`, unit: n, number: true },
      { key: 'a', label: $localize`Axial`, unit: n, number: true },
      ...(this.loads.now().compiled.couplings.some(({ model }) => model.law === 'band')
        ? [{ key: 's', label: $localize`Strands`, unit: n, number: true }]
        : []),
      { key: 'l', label: $localize`Lost`, unit: w, number: true },
    ];
  });
  protected readonly couplings = computed<Row[]>(() => {
    const { compiled, forces } = this.loads.now();
    const rows = forces.state.couplings;
    // A screw has no contact of its own in the picture: what it pushes along is its force.
    const thrust = (k: number): number => {
      const { ports } = compiled.kinematics.rows[k];
      const slide = ports.findIndex((p) => compiled.kinematics.motion[p.coordinate[0]] === 1);
      return slide < 0 || rows[k].tangential || rows[k].axial ? rows[k].axial : rows[k].port[slide];
    };
    const most = Math.max(1e-9, ...rows.map((r) => Math.max(Math.abs(r.tangential), Math.abs(r.radial), Math.abs(r.axial))));
    const done = new Set<Id>();
    const banded = compiled.couplings.some(({ model }) => model.law === 'band');
    return compiled.couplings.flatMap(({ coupling }, k) => {
      const r = rows[k];
      if (!r || done.has(coupling.id)) return [];
      done.add(coupling.id);
      return [
        {
          id: coupling.id,
          selected: this.chosen.isSelected(coupling.id),
          cells: [
            { text: coupling.name ?? coupling.id },
            this.cell(r.tangential, 'N', most),
            this.cell(r.radial, 'N', most),
            this.cell(thrust(k), 'N', Math.max(most, Math.abs(thrust(k)))),
            ...(banded ? [{ text: r.strands.map((x) => this.cell(x, 'N', most).text).join(', '), value: Math.max(0, ...r.strands) }] : []),
            this.cell(r.loss, 'W', Math.abs(r.loss)),
          ],
        },
      ];
    });
  });

  protected readonly jointColumns = computed<Column[]>(() => {
    const [f, m] = [this.units().of('N'), this.units().of('N·m')];
    const parts = this.moments()
      ? ['x', 'y', 'z'].map((a) => ({ key: `m${a}`, label: `M${a}`, unit: m, number: true, tone: 'm' }))
      : ['x', 'y', 'z'].map((a) => ({ key: `f${a}`, label: `F${a}`, unit: f, number: true, tone: 'f' }));
    return [
      { key: 'name', label: $localize`Joint` },
      ...parts,
      { key: 'f', label: '|F|', unit: f, number: true, tone: 'f' },
      { key: 'm', label: '|M|', unit: m, number: true, tone: 'm' },
    ];
  });
  protected readonly joints = computed<Row[]>(() => {
    const { compiled, forces, inertia } = this.loads.now();
    const { design } = compiled;
    const frameOf = (j: { child: Id; parent: Id }): Id => ({ world: FRAME, member: j.child, carrier: j.parent })[this.frame()];
    const all = design.joints.flatMap((j) => {
      const r = reactionAt(forces, j.id, 'child', frameOf(j), inertia);
      return r ? [{ j, r }] : [];
    });
    const most = { f: Math.max(1e-9, ...all.map((x) => norm(x.r.force))), m: Math.max(1e-9, ...all.map((x) => norm(x.r.moment))) };
    return all.flatMap(({ j, r }) => {
      const parts = (this.moments() ? r.moment : r.force).map((x) => (this.moments() ? this.cell(x, 'N·m', most.m) : this.cell(x, 'N', most.f)));
      // Bearings are stated along their joint, and given in world directions.
      const each = this.frame() === 'world' ? bearingForces(forces, j.id, inertia) : undefined;
      return [
        {
          id: j.id,
          selected: this.chosen.isSelected(j.id),
          cells: [{ text: j.name ?? j.id }, ...parts, this.cell(norm(r.force), 'N', most.f), this.cell(norm(r.moment), 'N·m', most.m)],
        },
        ...(each?.bearings ?? []).map((b, k) => ({
          part: true,
          cells: [
            { text: `bearing ${k + 1} at ${this.units().text(b.at, 'mm', 4)}${each!.by === 'beam' ? ', as a stiff beam' : ''}` },
            ...(this.moments() ? [{ text: '' }, { text: '' }, { text: '' }] : b.force.map((x) => this.cell(x, 'N', most.f))),
            this.cell(norm(b.force), 'N', most.f),
            b.tilting ? this.cell(b.tilting, 'N·m', most.m) : { text: '' },
          ],
        })),
      ];
    });
  });

  protected readonly actingColumns = computed<Column[]>(() => {
    const [f, m] = [this.units().of('N'), this.units().of('N·m')];
    return [
      { key: 'name', label: $localize`Load, spring or stop` },
      { key: 'f', label: $localize`Force`, unit: f, number: true, tone: 'f' },
      { key: 'm', label: $localize`Moment`, unit: m, number: true, tone: 'm' },
    ];
  });
  /** What loads, springs, dampers, friction and stops give at the instant. */
  protected readonly acting = computed<Row[]>(() => {
    const { compiled, forces, inertia } = this.loads.now();
    const name = new Map(compiled.design.loads.map((l) => [l.id, l.name]));
    const once = new Map<Id, { f: number; m: number }>();
    for (const w of forces.wrenches(inertia)) {
      if (w.kind !== 'load') continue;
      const had = once.get(w.id);
      if (!had) once.set(w.id, { f: norm(w.force), m: norm(w.moment) });
    }
    const rows: Row[] = [...once].map(([id, { f, m }]) => ({
      id,
      selected: this.chosen.isSelected(id),
      cells: [{ text: name.get(id) ?? id }, this.cell(f, 'N', f), m ? this.cell(m, 'N·m', m) : { text: '' }],
    }));
    const run = this.loads.run();
    if (!run) return rows;
    // Stops hold in runs alone.
    const { result } = run;
    const { frame } = framesAround(result, this.runs.reading());
    return [
      ...rows,
      ...compiled.structure.coordinates.flatMap((c) => {
        const value = result.stop[frame * result.coordinates + c.index];
        if (!value) return [];
        const cell = this.cell(value, c.unit.effort, Math.abs(value));
        return [
          {
            id: c.joint.id,
            cells: [
              { text: $localize`Stop of ${c.joint.name ?? c.joint.id}` },
              ...(c.motion === 'slide' ? [cell, { text: '' }] : [{ text: '' }, cell]),
            ],
          },
        ];
      }),
    ];
  });

  protected pickActing(id: string): void {
    const found = this.doc.find(id);
    if (found) this.chosen.select(found.kind, found.id);
  }
}
