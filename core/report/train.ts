import { couplingKind } from '../couplings/index';
import { type Answer, answersOf } from '../edits/index';
import { SOURCE_KINDS } from '../document/index';
import { FRAME, type Finding, type Id, type Load } from '../fields/types';
import { STANDARD_GRAVITY } from '../forces/index';
import { coordinateOf } from '../kinematics/index';
import { type ActingLoad, LOAD_KINDS, loadSize } from '../loads/index';
import { couplingRatio, couplingsTo, mapLayout, mapSvg, reachedFrom } from '../map/index';
import { curesOf } from '../sizing/index';
import { type Table, eachCoupling, ratingTables } from '../tables/index';
import { motionUnit } from '../units/index';
import { onSide, printed } from './printed';
import type { Block } from './report';
import type { Subject } from './subject';

const tableOf = (s: Subject, key: string): Table | undefined => s.tables.find((t) => t.key === key);
const tableBlock = (s: Subject, key: string, labels?: readonly string[]): Block[] => {
  const t = tableOf(s, key);
  return t ? [printed(t, s.units, labels)] : [];
};

/** What drives, what is wanted and by how much it is met, what loads. */
export function duty(s: Subject): Block[] {
  const { design, units } = s;
  const joint = (id: Id | undefined): string => design.joints.find((j) => j.id === String(id).split(':')[0])?.name ?? String(id ?? '');
  const slides = (ref: Id | undefined): boolean => ref !== undefined && coordinateOf(s.worked.compiled.structure, ref)?.unit.slides === true;
  const out: Block[] = [];
  const given = s.cases.flatMap((c) =>
    c.ledger.sources.flatMap((r) => {
      const stated = c.design.sources.find((x) => x.id === r.source);
      if (!stated) return [];
      const unit = motionUnit(slides(stated.joint));
      return [
        [
          c.name,
          stated.name,
          SOURCE_KINDS.find((k) => k.type === stated.type)?.label ?? stated.type,
          joint(stated.joint),
          units.text(r.speed, unit.speed),
          units.text(r.load, unit.effort),
          units.text(r.power, 'W'),
        ],
      ];
    }),
  );
  if (given.length) {
    out.push({ kind: 'heading', text: 'Sources' });
    out.push({
      kind: 'table',
      columns: [
        { label: 'Load case' },
        { label: 'Source' },
        { label: 'Kind' },
        { label: 'Drives' },
        { label: 'Speed', number: true },
        { label: 'Gives', number: true },
        { label: 'Power', number: true },
      ],
      rows: given,
    });
  }
  out.push({ kind: 'heading', text: 'Wanted outputs' });
  const wanted = tableBlock(s, 'wanted');
  out.push(...(wanted.length ? wanted : [{ kind: 'text', text: 'None stated.', soft: true } as const]));
  if (design.loads.length) {
    const on = (l: Load): string => {
      const { member, joint: j, a, b } = l as ActingLoad & { a?: Id; b?: Id };
      const name = (id: Id | undefined): string => (id === FRAME ? 'frame' : (design.members.find((m) => m.id === id)?.name ?? ''));
      return j ? joint(j) : member ? name(member) : [name(a), name(b)].filter(Boolean).join(' and ');
    };
    out.push({ kind: 'heading', text: 'Loads' });
    out.push({
      kind: 'table',
      columns: [{ label: 'Load' }, { label: 'Kind' }, { label: 'Acts on' }, { label: 'Size', number: true }],
      rows: design.loads.map((l) => [
        l.name,
        LOAD_KINDS.find((k) => k.type === l.type)?.label ?? l.type,
        on(l),
        loadSize(l, slides((l as { joint?: Id }).joint), units),
      ]),
    });
  }
  const [x, y, z] = design.settings?.gravity ?? STANDARD_GRAVITY;
  out.push({
    kind: 'text',
    text: x || y || z ? `Weight is included: ${units.number(Math.hypot(x, y, z), '', 6)} m/s².` : 'Weight is not included.',
    soft: true,
  });
  const named = tableBlock(s, 'quantities', ['Symbol', 'Name', 'Formula', 'Value', 'Unit', 'Note']);
  if (named.length) out.push({ kind: 'heading', text: 'Named quantities' }, ...named);
  return out;
}

/** The train as a drawing, with the speeds and loads of the home position. */
export function map(s: Subject): Block[] {
  const drawn = mapSvg(s.worked.compiled, s.worked.ledger, s.units);
  return drawn
    ? [
        { kind: 'drawing', ...drawn },
        { kind: 'text', text: 'Symbols after ISO 3952; speeds and loads in the home position, in steady motion, loads as stated.', soft: true },
      ]
    : [];
}

/** Couplings that a path names; of a longer one the last. */
const MOST_STEPS = 12;

/** Ratios, exact and decimal, both ways, with the way along the train. */
export function ratios(s: Subject): Block[] {
  const t = tableOf(s, 'ratios');
  if (!t) return [];
  const { design, worked, units } = s;
  const reached = reachedFrom(mapLayout(worked.compiled));
  const first = worked.compiled.sources.at(0)?.source as { joint?: Id } | undefined;
  const child = new Map(design.joints.map((j) => [j.id, j.child]));
  const path = (from: Id, to: Id): string => {
    if (!reached || from.split(':')[0] !== String(first?.joint).split(':')[0]) return '';
    const all = couplingsTo(reached, child.get(to.split(':')[0]) ?? '');
    const kept = all.length > MOST_STEPS ? all.slice(-MOST_STEPS) : all;
    const steps = kept.flatMap((c) => c.stated.replace(/ : /g, '/') || couplingRatio(c, units) || []);
    return `${kept.length < all.length ? `${all.length - kept.length} more · ` : ''}${steps.join(' · ')}`;
  };
  const block = printed(t, units);
  if (block.kind !== 'table') return [];
  return [
    {
      ...block,
      columns: [...block.columns, { label: 'Along the train' }],
      rows: block.rows.map((r, k) => [...r, path(worked.ratios[k].from, worked.ratios[k].to)]),
    },
  ];
}

/** Speed, load and power of every member; what goes in, out and is lost, in every load case. */
export function ledgerOf(s: Subject): Block[] {
  const out = tableBlock(s, 'ledger');
  for (const c of s.cases) {
    const { input, output, loss, efficiency } = c.ledger;
    if (!input) continue;
    const share = efficiency === undefined ? '' : `, efficiency ${s.units.number(100 * efficiency, '', 4)} %`;
    const text = `${c.name}: in ${s.units.text(input, 'W')}, out ${s.units.text(output, 'W')}, lost ${s.units.text(loss, 'W')}${share}.`;
    out.push({ kind: 'text', text, soft: true });
  }
  return out;
}

/** What couplings derive: a heading each, their figures below it. */
export function couplings({ worked, units }: Subject): Block[] {
  return eachCoupling(worked.compiled).flatMap(({ coupling: c, model }): Block[] => {
    const kind = couplingKind(c.type)?.label ?? c.type;
    if (!model.derived?.length) return [];
    return [
      { kind: 'heading', text: c.name && c.name !== kind ? `${c.name} (${kind.toLowerCase()})` : kind },
      {
        kind: 'table',
        columns: [{ label: 'Quantity' }, { label: 'Value', number: true }],
        rows: model.derived.map((x) => [x.label, typeof x.value === 'number' ? units.text(x.value, x.unit) : units.sentence(x.value)]),
      },
    ];
  });
}

/** What gear drawings state, by ISO 1340 and ISO 1341: what a gear is, once; the pairs that it is in, below. */
export function gears(s: Subject): Block[] {
  return ['gears', 'bevels'].flatMap((key): Block[] => {
    const t = tableOf(s, key);
    if (!t) return [];
    const own = t.columns.findIndex((c) => c.label === 'Mating gear');
    const seen = new Map<string, Table['rows'][number]>();
    for (const r of t.rows) {
      const gear = r.slice(0, own);
      if (!seen.has(gear.join('\n'))) seen.set(gear.join('\n'), gear);
    }
    const pairs = t.rows.filter((r) => r[own] !== undefined).map((r) => [r[0], ...r.slice(own)]);
    return [
      { kind: 'heading', text: t.title },
      ...onSide({ ...t, columns: t.columns.slice(0, own), rows: [...seen.values()] }, s.units, 'Gear'),
      ...(pairs.length ? [printed({ ...t, columns: [t.columns[0], ...t.columns.slice(own)], rows: pairs }, s.units)] : []),
    ];
  });
}

/** What teeth, shafts, bearings and screws bear, and what is not rated. */
export function rating(s: Subject): Block[] {
  const tables = ratingTables(s.worked, s.cases);
  const [t, none] = ['rating', 'unrated'].map((key) => tables.find((x) => x.key === key));
  if (!t && !none) return [];
  const at = t?.columns.findIndex((c) => c.label === 'Assumptions') ?? -1;
  const assumptions = [...new Set((t?.rows ?? []).flatMap((r) => String(r[at] ?? '').split('; ')))].filter(Boolean);
  return [
    ...(t ? [printed({ ...t, columns: t.columns.slice(0, at), rows: t.rows.map((r) => r.slice(0, at)) }, s.units)] : []),
    ...(assumptions.length ? [{ kind: 'text' as const, text: `Assumptions: ${assumptions.join('; ')}.`, soft: true as const }] : []),
    ...(none ? [{ kind: 'heading' as const, text: none.title }, printed(none, s.units)] : []),
  ];
}

/** What members weigh, and the parts that they have. */
export function masses(s: Subject): Block[] {
  // Words for parts lists where some part has them.
  const words = (key: string): string[] => {
    const t = tableOf(s, key);
    return ['Material', 'Cost', 'Note'].filter((label) => {
      const k = t?.columns.findIndex((c) => c.label === label) ?? -1;
      return k >= 0 && t!.rows.some((r) => r[k] !== undefined);
    });
  };
  return [
    ...tableBlock(s, 'masses', ['Member', 'Mass', 'Centre x', 'Centre y', 'Centre z', ...words('masses')]),
    { kind: 'heading', text: 'Parts' },
    ...tableBlock(s, 'parts', ['Part', 'Kind', 'Member', 'Mass of its shape', 'File', ...words('parts')]),
  ];
}

/** Every finding with what would answer it; and what was not looked at. */
export function findings(s: Subject): Block[] {
  const { worked, units, design } = s;
  const cures = curesOf(design, worked.compiled);
  const given = answersOf(design, worked.findings);
  const lines = worked.findings.map((f: Finding) => ({
    mark: f.severity,
    text: units.sentence(f.message),
    more: f.severity === 'note' ? undefined : (acceptedText(given.get(f)) ?? answers({ units, cures }, f)),
  }));
  const others = (design.cases ?? []).length;
  return [
    lines.length ? { kind: 'list', lines } : { kind: 'text', text: 'No findings.' },
    { kind: 'heading', text: 'Scope of the checks' },
    {
      kind: 'text',
      text:
        'Checked: ratios, mobility and closed loops; distances, alignment, teeth, phases and engagement of couplings over the travel; ' +
        'stops and home; overlap of bodies, forces and wanted outputs in the home position, in steady motion.',
    },
    {
      kind: 'text',
      text:
        'Not checked: strength, wear and life; overlap of bodies away from home; forces at other positions, which the runs show and no finding judges' +
        `${others ? '; findings in the load cases: they are of the loads as stated' : ''}.`,
    },
  ];
}

/** Why a finding is accepted, and by whom. */
function acceptedText(a: Answer | undefined): string | undefined {
  if (!a) return undefined;
  const { reason, person, date } = a.accepted;
  const by = [person, date].filter(Boolean).join(', ');
  return `${a.holds ? 'Accepted' : 'Was accepted before it changed'}${by ? ` (${by})` : ''}: ${reason}`;
}

/** What would answer a finding, untried. */
function answers(s: { units: Subject['units']; cures: ReturnType<typeof curesOf> }, f: Finding): string | undefined {
  const names = s.cures(f).map((c) => s.units.sentence(c.label));
  return names.length ? `Possible fixes: ${names.join('; ')}.` : undefined;
}
