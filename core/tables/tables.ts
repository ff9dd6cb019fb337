import type { Ready, Snapshot } from '../checks/index';
import { ready } from '../checks/index';
import { couplingKind } from '../couplings/index';
import { inCase } from '../edits/index';
import { type Gear, elementKind, gearOf, isShape } from '../elements/index';
import { type Design, FRAME, type Id } from '../fields/types';
import { type Ledger, bearingForces, elementMass, ledger } from '../forces/index';
import { overPins, pinFor, spanOverTeeth, spanNeeds, formRadius, spanTeeth } from '../teeth/index';
import { motionUnit } from '../units/index';
import type { Cell, Table, TableColumn } from './table';

const text = (label: string): TableColumn => ({ label });
const figure = (label: string, unit?: string): TableColumn => ({ label, number: true, ...(unit && { unit }) });
const DEG = 180 / Math.PI;

/** What tables are made of: a design as it was worked out. */
export type Standing = Ready & Pick<Snapshot, 'ratios' | 'ledger' | 'masses'>;

const nameOf = (d: Design, id: Id): string => (id === FRAME ? 'Frame' : (d.members.find((m) => m.id === id)?.name ?? id));

/** As stated, and every load case by its name. */
function* cases(s: Standing): Generator<[name: string, design: Design, l: Ledger]> {
  const { design } = s.compiled;
  yield ['as stated', design, s.ledger];
  for (const c of design.cases ?? []) {
    const d = inCase(design, c.id);
    const { pose, forces } = ready(d);
    yield [c.name, d, ledger(pose, forces)];
  }
}

/** Wanted outputs against what the train does, in every load case. */
function wantedTable(s: Standing): Table {
  const rows: Cell[][] = [];
  for (const [name, d, l] of cases(s)) {
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
    columns: [text('From'), text('To'), text('Exact'), figure('Ratio'), text('Unit'), text('Inverse, exact'), figure('Inverse')],
    rows: ratios.map((r) => [joint(r.from), joint(r.to), r.exact, r.decimal, r.unit, r.inverse, r.inverseDecimal]),
  };
}

/** Speed, load and power of every member, in every load case. */
function ledgerTable(s: Standing): Table {
  const rows: Cell[][] = [];
  for (const [name, d, l] of cases(s)) {
    for (const x of l.lines) {
      if (x.motion === 'still') continue;
      const unit = motionUnit(x.motion);
      rows.push([name, nameOf(d, x.member), x.speed, unit.speed, x.load, x.motion === 'slide' ? 'N' : 'N·m', x.power]);
    }
  }
  return {
    key: 'ledger',
    title: 'Ledger',
    columns: [text('Load case'), text('Member'), figure('Speed'), text('Unit'), figure('Load'), text('Unit'), figure('Power', 'W')],
    rows,
  };
}

/** What a gear drawing states of cylindrical gears (ISO 1340), with what they mesh with. */
function gearTable({ compiled }: Standing): Table {
  const { design } = compiled;
  const rows = design.elements.flatMap((e): Cell[][] => {
    if (e.type !== 'gear') return [];
    const g = gearOf(e as Gear);
    const k = g.internal ? undefined : spanTeeth(g, formRadius(g));
    const pin = pinFor(g);
    const pins = g.beta === 0 ? overPins(g, pin) : undefined;
    const meshing = compiled.couplings.filter(({ coupling: c }) => (c.a === e.id || c.b === e.id) && c.type !== 'proportional');
    const others = meshing.map(({ coupling: c }) => design.elements.find((x) => x.id === (c.a === e.id ? c.b : c.a)));
    const value = (key: string): Cell => {
      const found = meshing.map(({ model }) => model.derived?.find((x) => x.key === key)?.value).find((v) => typeof v === 'number');
      return typeof found === 'number' ? found : undefined;
    };
    const hand = (e as Gear).hand ?? 'right';
    return [
      [
        e.name,
        nameOf(design, e.member),
        g.internal ? 'internal' : 'external',
        g.teeth,
        g.module,
        g.alpha * DEG,
        `ha* ${g.addendum}, hf* ${g.dedendum}, ρf* ${g.fillet}`,
        g.beta * DEG || 0,
        g.beta === 0 ? '' : hand,
        g.shift,
        2 * g.pitchRadius,
        2 * g.tipRadius,
        2 * g.rootRadius,
        2 * g.baseRadius,
        k,
        k === undefined ? undefined : spanOverTeeth(g, k),
        k === undefined ? undefined : spanNeeds(g, k),
        pins === undefined ? undefined : pin,
        pins,
        others.map((m) => m?.name ?? '').join(', '),
        others.map((m) => (m as { teeth?: number } | undefined)?.teeth ?? '').join(', '),
        value('distance') ?? value('a'),
        value('backlash'),
      ],
    ];
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
      figure('Reference diameter d', 'mm'),
      figure('Tip diameter da', 'mm'),
      figure('Root diameter df', 'mm'),
      figure('Base diameter db', 'mm'),
      figure('Span over teeth k'),
      figure('Span Wk', 'mm'),
      figure('Face width that the span needs', 'mm'),
      figure('Pin diameter DM', 'mm'),
      figure('Measure over pins Md', 'mm'),
      text('Mating gear'),
      text('Teeth of the mating gear'),
      figure('Centre distance a', 'mm'),
      figure('Backlash', 'mm'),
    ],
    rows,
  };
}

/** What couplings derive: distances, contact ratios, belt lengths, wraps. */
function couplingTable({ compiled }: Standing): Table {
  return {
    key: 'couplings',
    title: 'Meshes and belts',
    columns: [text('Coupling'), text('Kind'), text('Quantity'), figure('Value'), text('In words'), text('Unit')],
    rows: compiled.couplings.flatMap(({ coupling: c, model }) =>
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

/** What every bearing carries in steady motion. */
function bearingTable({ compiled, forces }: Standing): Table {
  const { design } = compiled;
  return {
    key: 'bearings',
    title: 'Bearings',
    columns: [
      text('Joint'),
      text('Carried'),
      figure('Place along the axis', 'mm'),
      figure('Radial force', 'N'),
      figure('Axial force', 'N'),
      figure('Tilting moment', 'N·m'),
    ],
    rows: design.joints.flatMap((j): Cell[][] =>
      (bearingForces(forces, j.id)?.bearings ?? []).map((b) => [j.name ?? j.id, nameOf(design, j.child), b.at, b.radial, b.axial, b.tilting]),
    ),
  };
}

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
      { ...figure('Mass of its shape', 'kg'), total: true },
      figure('Density', 'kg/m³'),
      text('File'),
    ],
    rows: design.elements.map((e): Cell[] => [
      e.name,
      elementKind(e.type)?.label ?? e.type,
      nameOf(design, e.member),
      isShape(e) && e.open ? undefined : elementMass(e).mass,
      (e as { density?: number }).density ?? 7850,
      isShape(e) ? (e.file ?? '') : '',
    ]),
  };
}

/** Members with what they weigh, stated or by their shapes. */
function massTable({ compiled, masses }: Standing): Table {
  return {
    key: 'masses',
    title: 'Masses of members',
    columns: [text('Member'), { ...figure('Mass', 'kg'), total: true }, figure('Centre x', 'mm'), figure('Centre y', 'mm'), figure('Centre z', 'mm')],
    rows: compiled.design.members.map((m): Cell[] => {
      const x = masses.get(m.id);
      return x && x.mass > 0 ? [m.name, x.mass, ...x.centre] : [m.name, 0];
    }),
  };
}

/** Every table of a design; those without a row are left out. */
export const tablesOf = (s: Standing): Table[] =>
  [wantedTable, ratioTable, ledgerTable, gearTable, couplingTable, bearingTable, massTable, partsTable]
    .map((make) => make(s))
    .filter((t) => t.rows.length);
