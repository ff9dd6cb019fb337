import { analyse } from '../checks/index';
import { unitsOf } from '../document/index';
import { variantOf } from '../edits/index';
import { elementKind, reachOfElement } from '../elements/index';
import type { Design } from '../fields/types';
import { type Vec3, WORLD, toLocalVector } from '../math/index';
import { movedFrame } from '../kinematics/index';
import { motionUnit } from '../units/index';
import { shownIn } from './shown';
import type { Cell, Table, TableColumn } from './table';

/** The size of all bodies at home, mm: along x, y, z. */
function sizeOf(worked: ReturnType<typeof analyse>): Vec3 | undefined {
  const { compiled, pose } = worked;
  const [lo, hi]: [number[], number[]] = [
    [Infinity, Infinity, Infinity],
    [-Infinity, -Infinity, -Infinity],
  ];
  for (const e of compiled.design.elements) {
    const frame = compiled.elementFrames.get(e.id);
    const kind = elementKind(e.type);
    if (!frame || !kind) continue;
    const at = movedFrame(pose, e.member, frame);
    [WORLD.x, WORLD.y, WORLD.z].forEach((axis, k) => {
      const reach = reachOfElement(kind, e, toLocalVector(at, axis));
      if (!reach) return;
      lo[k] = Math.min(lo[k], at.o[k] + reach[0]);
      hi[k] = Math.max(hi[k], at.o[k] + reach[1]);
    });
  }
  return hi[0] >= lo[0] ? [hi[0] - lo[0], hi[1] - lo[1], hi[2] - lo[2]] : undefined;
}

type Line = readonly [label: string, unit: string, cell: Cell];

/** What a design comes to, line by line: wanted outputs, sources, ratios, masses, size, cost and findings. */
function linesOf(design: Design, conflicts: readonly string[]): Line[] {
  const worked = analyse(design);
  const { ledger, ratios, masses, findings, compiled } = worked;
  const joint = (id: string): string => design.joints.find((j) => j.id === id.split(':')[0])?.name ?? id;
  const out: Line[] = [];
  for (const w of ledger.wanted) {
    const name = design.wanted.find((x) => x.id === w.wanted)?.name ?? w.wanted;
    out.push([name, w.unit, w.value], [`${name}, met`, '', w.value === undefined ? 'not known' : w.met ? 'met' : 'missed']);
  }
  for (const s of ledger.sources) {
    const stated = compiled.sources.find((x) => x.source.id === s.source);
    const unit = motionUnit(stated ? compiled.structure.coordinates[stated.coordinate].motion : 'turn');
    const name = stated?.source.name ?? s.source;
    out.push([`${name}: speed`, unit.speed, s.speed], [`${name}: load`, unit.effort, s.load], [`${name}: power`, 'W', s.power]);
  }
  if (ledger.efficiency !== undefined) out.push(['Efficiency', '%', 100 * ledger.efficiency]);
  const first = ratios.at(0)?.from;
  for (const r of ratios) {
    if (r.from === first && r.to !== r.from) {
      out.push([`Ratio to ${joint(r.to)}`, '', r.unit === '' || r.unit === 'turn/turn' ? r.exact : `${r.exact} ${r.unit.replaceAll('turn', 'rev')}`]);
    }
  }
  out.push(['Mass', 'kg', [...masses.values()].reduce((sum, m) => sum + m.mass, 0)]);
  const size = sizeOf(worked);
  ['x', 'y', 'z'].forEach((axis, k) => out.push([`Size along ${axis}`, 'mm', size?.[k]]));
  const costs = [...design.members, ...design.elements].flatMap((x) => x.cost ?? []);
  if (costs.length) out.push(['Stated cost', '', costs.reduce((a, b) => a + b, 0)]);
  for (const severity of ['fault', 'caution', 'note'] as const) {
    out.push([`Findings: ${severity}s`, '', findings.filter((f) => f.severity === severity).length]);
  }
  out.push(['Conflicts with the base', '', conflicts.length]);
  return out;
}

/** Base and variants side by side: a line a quantity, a column a design, in the units of the design. */
export function variantTable(design: Design): Table {
  const all = [
    { name: 'Base', lines: linesOf(design, []) },
    ...(design.variants ?? []).map((v) => {
      const made = variantOf(design, v);
      return { name: v.name, lines: linesOf(made.design, made.conflicts) };
    }),
  ];
  const rows = new Map<string, { label: string; unit: string; cells: Cell[] }>();
  all.forEach(({ lines }, k) => {
    for (const [label, unit, cell] of lines) {
      const row = rows.get(label) ?? { label, unit, cells: all.map(() => undefined) };
      row.cells[k] = cell;
      rows.set(label, row);
    }
  });
  const columns: TableColumn[] = [{ label: 'Quantity' }, ...all.map((x): TableColumn => ({ label: x.name, number: true })), { label: 'Unit' }];
  return shownIn(
    { key: 'variants', title: 'Variants', columns, rows: [...rows.values()].map((r): Cell[] => [r.label, ...r.cells, r.unit]) },
    unitsOf(design.settings),
  );
}
