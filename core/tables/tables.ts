import { type Case, type Ready, type Snapshot, casesOf } from '../checks/index';
import { couplingKind } from '../couplings/index';
import { unitsOf } from '../document/index';
import { BEVEL_HEIGHTS, type BevelGear, DENSITY_STEEL, type Gear, bevelOf, elementKind, gearOf, isShape, num, toothLimits } from '../elements/index';
import { unitOfQuantity, usesOf } from '../edits/index';
import { type Design, FRAME, type Id } from '../fields/types';
import { exactly, toNumber } from '../math/index';
import { bearingForces, elementMass } from '../forces/index';
import { overPins, pinFor, spanOverTeeth, spanNeeds, formRadius, spanTeeth } from '../teeth/index';
import { motionUnit } from '../units/index';
import { byReason, deviations, rate, savedRuns, steadyCase } from '../rating/index';
import { computedRuns } from '../sizing/index';
import { runTable } from './runs';
import { shownIn } from './shown';
import { variantTable } from './variants';
import type { Cell, Table, TableColumn } from './table';

const text = (label: string): TableColumn => ({ label });
const figure = (label: string, unit?: string): TableColumn => ({ label, number: true, ...(unit && { unit }) });
const DEG = 180 / Math.PI;

/** What tables are made of: a design as it was worked out. */
export type Standing = Ready & Pick<Snapshot, 'ratios' | 'ledger' | 'masses'>;
type Given = Standing & { cases: readonly Case[] };

const nameOf = (d: Design, id: Id): string => (id === FRAME ? 'Frame' : (d.members.find((m) => m.id === id)?.name ?? id));

/** Named quantities: what each is, by which formula, and what it comes to in its own unit. */
function quantityTable({ compiled: { design } }: Standing): Table {
  const uses = usesOf(design);
  return {
    key: 'quantities',
    title: 'Named quantities',
    columns: [
      text('Symbol'),
      text('Name'),
      text('Formula'),
      figure('Value'),
      text('Unit'),
      text('Exactly'),
      text('Used by'),
      text('Note'),
      text('Group'),
    ],
    rows: (design.quantities ?? []).map((q): Cell[] => [
      q.symbol,
      q.name,
      q.formula ?? '',
      toNumber(exactly(q.value)),
      unitOfQuantity(q),
      typeof q.value === 'string' ? q.value : '',
      uses.get(q.symbol)!.join(', '),
      q.note ?? '',
      q.group ?? '',
    ]),
  };
}

/** Wanted outputs against what the train does, in every load case. */
function wantedTable({ cases }: Given): Table {
  const rows: Cell[][] = [];
  for (const { name, design: d, ledger: l } of cases) {
    for (const w of l.wanted) {
      const stated = d.wanted.find((x) => x.id === w.wanted) as { name: string; value?: number; tolerance?: number } | undefined;
      rows.push([
        name,
        stated?.name ?? w.wanted,
        stated?.value,
        stated?.tolerance,
        w.value,
        w.off,
        w.unit,
        w.value === undefined ? (w.because ?? 'not known') : w.met ? 'met' : 'missed',
      ]);
    }
  }
  return {
    key: 'wanted',
    title: 'Wanted outputs',
    columns: [
      text('Load case'),
      text('Output'),
      figure('Wanted'),
      figure('Tolerance'),
      figure('Actual'),
      figure('Difference'),
      text('Unit'),
      text('Met'),
    ],
    rows,
  };
}

/** Ratios from every source to every joint, exact and decimal, both ways. */
function ratioTable({ ratios, compiled }: Standing): Table {
  const joint = (id: Id): string => compiled.design.joints.find((j) => j.id === id.split(':')[0])?.name ?? id;
  return {
    key: 'ratios',
    title: 'Ratios',
    columns: [text('From'), text('To'), text('Exact'), figure('Ratio'), text('Unit'), text('Inverse, exact'), figure('Inverse'), text('Unit')],
    rows: ratios.map((r) => {
      const unit = r.unit.replaceAll('turn', 'rev');
      const other = unit.split('/').reverse().join('/');
      // Exact in the units of documents, whatever the design shows.
      const exact = (x: string, of: string): string => (of === 'rev/rev' || !of ? x : `${x} ${of}`);
      return [joint(r.from), joint(r.to), exact(r.exact, unit), r.decimal, unit, exact(r.inverse, other), r.inverseDecimal, other];
    }),
  };
}

/** Speed, load and power of every member, in every load case. */
function ledgerTable({ cases }: Given): Table {
  const rows: Cell[][] = [];
  for (const { name, design: d, ledger: l } of cases) {
    for (const x of l.lines) {
      if (x.motion === 'still') continue;
      const unit = motionUnit(x.motion);
      rows.push([name, nameOf(d, x.member), x.speed, unit.speed, x.load, unit.effort, x.power]);
    }
  }
  return {
    key: 'ledger',
    title: 'Ledger',
    columns: [text('Load case'), text('Member'), figure('Speed'), text('Unit'), figure('Load'), text('Unit'), figure('Power', 'W')],
    rows,
  };
}

/** Limits of a gear's tooth thickness and of its measures: over k teeth, and over pins; nothing where it states none. */
function limitCells(e: Gear, k: number | undefined, pin: number | undefined): Cell[] {
  const limits = toothLimits(e);
  if (!limits) return Array<Cell>(7).fill(undefined);
  const { thick, thin } = limits;
  const spans: Cell[] = k === undefined ? [undefined, undefined] : [spanOverTeeth(thick, k), spanOverTeeth(thin, k)];
  const pins: Cell[] = pin === undefined ? [undefined, undefined] : [overPins(thick, pin), overPins(thin, pin)];
  const { thicknessAllowance: a, thicknessTolerance: t } = e;
  return [a === undefined ? 'stated' : `DIN 3967 ${a}${t}`, 0 - thick.thinning, 0 - thin.thinning, ...spans, ...pins];
}
/** Tolerances of a gear whose accuracy grade is stated. */
function deviationCells(e: Gear): Cell[] {
  if (e.accuracyGrade === undefined) return Array<Cell>(5).fill(undefined);
  const g = gearOf(e);
  const d = deviations(e.accuracyGrade, g.module, 2 * g.pitchRadius, num(e.width));
  return [d.singlePitch, d.totalPitch, d.profileTotal, d.helixTotal, d.runout].map((x) => Number(x.toPrecision(2)));
}

/** What a gear drawing states of cylindrical gears (ISO 1340): a line for each mesh that a gear is in. */
function gearTable({ compiled }: Standing): Table {
  const { design } = compiled;
  const rows = design.elements.flatMap((e): Cell[][] => {
    if (e.type !== 'gear') return [];
    const g = gearOf(e as Gear);
    const k = g.internal ? undefined : spanTeeth(g, formRadius(g));
    const pin = pinFor(g);
    const pins = g.beta === 0 ? overPins(g, pin) : undefined;
    const own: Cell[] = [
      e.name,
      nameOf(design, e.member),
      g.internal ? 'internal' : 'external',
      g.teeth,
      g.module,
      g.alpha * DEG,
      `ha* ${g.addendum}, hf* ${g.dedendum}, ρf* ${g.fillet}`,
      g.beta * DEG || 0,
      g.beta === 0 ? '' : ((e as Gear).hand ?? 'right'),
      g.shift,
      (e as Gear).accuracyGrade,
      2 * g.pitchRadius,
      2 * g.tipRadius,
      2 * g.rootRadius,
      2 * g.baseRadius,
      k,
      k === undefined ? undefined : spanOverTeeth(g, k),
      k === undefined || g.beta === 0 ? undefined : spanNeeds(g, k),
      pins === undefined ? undefined : pin,
      pins,
      ...limitCells(e as Gear, k, pins === undefined ? undefined : pin),
      ...deviationCells(e as Gear),
    ];
    const meshes = compiled.couplings.filter(({ coupling: c }) => c.a === e.id || c.b === e.id);
    if (!meshes.length) return [[...own, undefined, undefined, undefined, undefined, undefined, undefined]];
    return meshes.map(({ coupling: c, model }) => {
      const other = design.elements.find((x) => x.id === (c.a === e.id ? c.b : c.a));
      const value = (key: string): Cell => {
        const v = model.derived?.find((x) => x.key === key)?.value;
        return typeof v === 'number' ? v : undefined;
      };
      return [
        ...own,
        other?.name,
        (other as Partial<Gear> | undefined)?.teeth,
        value('distance'),
        value('backlash'),
        value('backlashLeast'),
        value('backlashMost'),
      ];
    });
  });
  return {
    key: 'gears',
    title: 'Gear data (ISO 1340)',
    columns: [
      text('Gear'),
      text('Member'),
      text('Kind'),
      figure('Teeth z'),
      figure('Normal module mn', 'mm'),
      figure('Pressure angle αn', 'deg'),
      text('Reference profile'),
      figure('Helix angle β', 'deg'),
      text('Hand'),
      figure('Profile shift x'),
      figure('Grade (ISO 1328-1)'),
      figure('Reference diameter d', 'mm'),
      figure('Tip diameter da', 'mm'),
      figure('Root diameter df', 'mm'),
      figure('Base diameter db', 'mm'),
      figure('Span over teeth k'),
      figure('Span Wk', 'mm'),
      figure('Face width that the span needs', 'mm'),
      figure('Pin diameter DM', 'mm'),
      figure('Measure over pins Md', 'mm'),
      text('Tooth thickness limits'),
      figure('Upper deviation Esns', 'mm'),
      figure('Lower deviation Esni', 'mm'),
      figure('Greatest span', 'mm'),
      figure('Least span', 'mm'),
      figure('Greatest over pins', 'mm'),
      figure('Least over pins', 'mm'),
      figure('Single pitch fpt', 'μm'),
      figure('Total pitch Fp', 'μm'),
      figure('Profile Fα', 'μm'),
      figure('Helix Fβ', 'μm'),
      figure('Runout Fr', 'μm'),
      text('Mating gear'),
      figure('Teeth of the mating gear'),
      figure('Centre distance a', 'mm'),
      figure('Backlash', 'mm'),
      figure('Least backlash', 'mm'),
      figure('Greatest backlash', 'mm'),
    ],
    rows,
  };
}

/**
 * What a drawing states of straight bevel gears (ISO 1341), at their outer ends; teeth taper to the apex, so that addendum and
 * dedendum angles are atan(h/Re) (ISO 23509, from memory). A line for each pair that a gear is in.
 */
function bevelTable({ compiled }: Standing): Table {
  const { design } = compiled;
  const rows = design.elements.flatMap((e): Cell[][] => {
    if (e.type !== 'bevel-gear') return [];
    const g = bevelOf(e as BevelGear);
    const d = g.module * g.teeth;
    const distance = d / 2 / Math.sin(g.cone);
    const own: Cell[] = [
      e.name,
      nameOf(design, e.member),
      g.teeth,
      g.module,
      g.alpha * DEG,
      `ha* ${BEVEL_HEIGHTS.addendum}, hf* ${BEVEL_HEIGHTS.dedendum}`,
      d,
      d + 2 * BEVEL_HEIGHTS.addendum * g.module * Math.cos(g.cone),
      distance,
      g.cone * DEG,
      (g.cone + Math.atan((BEVEL_HEIGHTS.addendum * g.module) / distance)) * DEG,
      (g.cone - Math.atan((BEVEL_HEIGHTS.dedendum * g.module) / distance)) * DEG,
      g.width,
    ];
    const pairs = compiled.couplings.filter(({ coupling: c }) => c.a === e.id || c.b === e.id);
    if (!pairs.length) return [[...own, undefined, undefined, undefined]];
    return pairs.map(({ coupling: c, model }) => {
      const other = design.elements.find((x) => x.id === (c.a === e.id ? c.b : c.a));
      const angle = model.derived?.find((x) => x.key === 'shaftAngle')?.value;
      return [...own, other?.name, (other as Partial<BevelGear> | undefined)?.teeth, typeof angle === 'number' ? angle : undefined];
    });
  });
  return {
    key: 'bevels',
    title: 'Bevel gear data (ISO 1341)',
    columns: [
      text('Gear'),
      text('Member'),
      figure('Teeth z'),
      figure('Outer module me', 'mm'),
      figure('Pressure angle α', 'deg'),
      text('Reference profile'),
      figure('Outer pitch diameter de', 'mm'),
      figure('Outer tip diameter dae', 'mm'),
      figure('Outer cone distance Re', 'mm'),
      figure('Pitch cone angle δ', 'deg'),
      figure('Tip cone angle δa', 'deg'),
      figure('Root cone angle δf', 'deg'),
      figure('Face width b', 'mm'),
      text('Mating gear'),
      figure('Teeth of the mating gear'),
      figure('Shaft angle Σ', 'deg'),
    ],
    rows,
  };
}

/** Couplings once each: one with several rows, as a belt of three wheels has, stands several times among the compiled ones. */
export function eachCoupling({ couplings }: Ready['compiled']): Ready['compiled']['couplings'] {
  const seen = new Set<Id>();
  return couplings.filter(({ coupling: { id } }) => !seen.has(id) && seen.add(id));
}

/** What couplings derive: distances, contact ratios, belt lengths, wraps. */
function couplingTable({ compiled }: Standing): Table {
  return {
    key: 'couplings',
    title: 'Meshes and belts',
    columns: [text('Coupling'), text('Kind'), text('Quantity'), figure('Value'), text('In words'), text('Unit')],
    rows: eachCoupling(compiled).flatMap(({ coupling: c, model }) =>
      (model.derived ?? []).map((x): Cell[] => [
        c.name ?? c.id,
        couplingKind(c.type)?.label ?? c.type,
        x.label,
        typeof x.value === 'number' ? x.value : undefined,
        typeof x.value === 'string' ? x.value : '',
        x.unit ?? '',
      ]),
    ),
  };
}

/** What every bearing carries in steady motion, in every load case. */
function bearingTable({ cases }: Given): Table {
  return {
    key: 'bearings',
    title: 'Bearings',
    columns: [
      text('Load case'),
      text('Joint'),
      text('Carried'),
      figure('Place along the axis', 'mm'),
      figure('Radial force', 'N'),
      figure('Axial force', 'N'),
      figure('Tilting moment', 'N·m'),
    ],
    rows: cases.flatMap(({ name, design, forces }) =>
      design.joints.flatMap((j): Cell[][] =>
        (bearingForces(forces, j.id)?.bearings ?? []).map((b) => [name, j.name ?? j.id, nameOf(design, j.child), b.at, b.radial, b.axial, b.tilting]),
      ),
    ),
  };
}

/** By which a line of a table is known again when it is read back. */
export const ID_COLUMN = 'Id (do not change)';

/** Elements with their masses, and the file of imported ones. */
function partsTable({ compiled }: Standing): Table {
  const { design } = compiled;
  return {
    key: 'parts',
    title: 'Parts',
    columns: [
      text('Part'),
      text('Kind'),
      text('Member'),
      text('Material'),
      { ...figure('Mass of its shape', 'kg'), total: true },
      figure('Density', 'kg/m³'),
      { ...figure('Cost'), total: true },
      text('Note'),
      text('File'),
      text(ID_COLUMN),
    ],
    rows: design.elements.map((e): Cell[] => [
      e.name,
      elementKind(e.type)?.label ?? e.type,
      nameOf(design, e.member),
      e.material,
      isShape(e) && e.open ? undefined : elementMass(e).mass,
      (e as { density?: number }).density ?? DENSITY_STEEL,
      e.cost,
      e.note,
      isShape(e) ? (e.file ?? '') : '',
      e.id,
    ]),
  };
}

/** Members with what they weigh, stated or by their shapes. */
function massTable({ compiled, masses }: Standing): Table {
  return {
    key: 'masses',
    title: 'Masses of members',
    columns: [
      text('Member'),
      { ...figure('Mass', 'kg'), total: true },
      figure('Centre x', 'mm'),
      figure('Centre y', 'mm'),
      figure('Centre z', 'mm'),
      text('Material'),
      { ...figure('Cost'), total: true },
      text('Note'),
      text(ID_COLUMN),
    ],
    rows: compiled.design.members.map((m): Cell[] => {
      const x = masses.get(m.id);
      const words: Cell[] = [m.material, m.cost, m.note, m.id];
      if (!x || !(x.mass > 0)) return [m.name, 0, undefined, undefined, undefined, ...words];
      // Rounding is nothing, beside the figures that it came from.
      const far = Math.max(1e-3, Math.hypot(...x.centre));
      return [m.name, x.mass, ...x.centre.map((c) => (Math.abs(c) < 1e-9 * far ? 0 : c)), ...words];
    }),
  };
}

/** What teeth, shafts, bearings and screws bear, worst first, saved runs too; and what is not rated, by reason. */
export function ratingTables({ compiled }: Standing, cases: readonly Case[]): Table[] {
  const { lines, unrated } = rate(compiled, [...cases.map(steadyCase), ...savedRuns(compiled.design)]);
  return shownOf(compiled.design, [
    {
      key: 'rating',
      title: 'Rating',
      columns: [
        text('Part'),
        text('What'),
        text('Load case or run'),
        figure('Safety or life'),
        text('Unit'),
        figure('Wanted'),
        figure('Load reserve'),
        text('Met'),
        text('Method'),
        text('Assumptions'),
      ],
      rows: lines.map((l): Cell[] => [
        l.name,
        l.what,
        l.case,
        Number.isFinite(l.value) ? l.value : 'no load',
        l.unit ?? '',
        l.wanted,
        Number.isFinite(l.reserve) ? l.reserve : undefined,
        l.reserve >= 1 ? 'met' : 'missed',
        l.method,
        l.assumptions.join('; '),
      ]),
    },
    {
      key: 'unrated',
      title: 'Not rated',
      columns: [text('Reason'), text('Parts')],
      rows: byReason(unrated).map(({ why, parts }): Cell[] => [why, parts.map((u) => u.name).join(', ')]),
    },
  ]);
}

/** Tables in the units of their design, without those that have no row. */
const shownOf = (design: Design, tables: readonly Table[]): Table[] =>
  tables.map((t) => shownIn(t, unitsOf(design.settings))).filter((t) => t.rows.length);

/** Gear data of the cylindrical and of the bevel gears, in the design's units. */
export const gearTables = (s: Standing): Table[] => shownOf(s.compiled.design, [gearTable(s), bevelTable(s)]);

/** Every table of a design as it stands, but its rating, in its units; those without a row are left out. */
export function standingTables(s: Standing, cases = casesOf(s)): Table[] {
  const given = { ...s, cases };
  const all = [quantityTable, wantedTable, ratioTable, ledgerTable, gearTable, bevelTable, couplingTable, bearingTable, massTable, partsTable];
  return shownOf(
    s.compiled.design,
    all.map((make) => make(given)),
  );
}

/** All tables: as it stands, its rating, and its runs, which are computed for them. */
export function tablesOf(s: Standing): Table[] {
  const { design } = s.compiled;
  const cases = casesOf(s);
  return [
    ...standingTables(s, cases),
    ...ratingTables(s, cases),
    ...shownOf(design, [runTable(computedRuns(design))]),
    ...(design.variants?.length ? [variantTable(design)] : []),
  ];
}
