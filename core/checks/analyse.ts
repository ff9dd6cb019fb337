import { listed, listedUpTo } from '../units/index';
import { isShape } from '../elements/index';
import { holdsContent } from '../shapes/index';
import { finding } from '../findings/index';
import { FRAME, type Design, type Finding, type Id } from '../fields/types';
import { withFormulas } from '../edits/index';
import { goHome } from '../motion/index';
import { piInverseText, ratioTexts } from './ratio-text';
import {
  Bodies,
  compile,
  engagementFindings,
  exactRatio,
  mapStops,
  mobility,
  phaseFindings,
  setPhases,
  stopFindings,
  type Compiled,
  type Interval,
  type Pose,
  poseOf,
} from '../kinematics/index';
import { Forces, Holding, Ledger, findWorkingPoints, holding, ledger, massesOf } from '../forces/index';
import { planetFindings, planetarySets } from '../sizing/index';
import { boundless, heldByBrakes, idleLoads, markConsequences, pointMasses } from './acting';
import { type MassProperties, possibleInertia } from '../solids/index';
import { piToNumber } from '../math/index';

/** The ratio of one coordinate to the driving one, both ways round. */
export interface RatioLine {
  from: Id;
  to: Id;
  /** Per unit of the driving one: turns or mm. */
  exact: string;
  decimal: number;
  unit: string;
  inverse: string;
  inverseDecimal: number;
}

/** The driving source's coordinate as limited by every stop of the train. */
export interface StopsLine {
  source: Id;
  unit: 'turn' | 'mm';
  interval: Interval;
}

export interface Analysis {
  freedoms: number;
  undriven: Id[][];
  /** The motions themselves, over the free coordinates, for showing them. */
  freedomVectors: Float64Array[];
  ratios: RatioLine[];
  stops: StopsLine[];
  ledger: Ledger;
  /** What holds the train when a source lets go. */
  holding: Holding[];
  findings: Finding[];
}

/** A design compiled and at its home, with what moves it on. */
export interface Ready {
  readonly compiled: Compiled;
  readonly pose: Pose;
  readonly forces: Forces;
}

/** What was worked out of a design: plain values alone, so that a worker can send it. */
export interface Snapshot extends Analysis {
  masses: ReadonlyMap<Id, MassProperties>;
}

/** An analysis with the machinery that made it. */
export type Worked = Snapshot & Ready;

const RANK = { fault: 0, caution: 1, note: 2 };

/** Values that are not what their formulas give: another program wrote them, or two people's edits were joined. */
function stale(design: Design): Finding[] {
  const now = withFormulas(design);
  if (now.design === design && now.problem === undefined) return [];
  const off = now.design.quantities?.find((q, k) => q.value !== design.quantities?.[k].value);
  const problem = now.problem ?? (off ? `${off.symbol} comes to ${off.value}` : 'a field of an item');
  return [finding('formula-stale', [], { problem })];
}

/** Meshes whose teeth do not stand in spaces; where they are a planetary set's and no phase helps, what would. */
function phases(compiled: Compiled): Finding[] {
  const off = phaseFindings(compiled);
  const inTrouble = new Set(off.map((f) => f.ids[0]));
  const sets = planetarySets(compiled).filter((s) => s.couplings.some((c) => inTrouble.has(c)));
  if (!sets.length) return off;
  const loops = new Set<Id>();
  for (const s of sets) for (const f of setPhases(compiled.design, new Set(s.couplings)).findings) loops.add(f.ids[0]);
  return [...planetFindings(compiled, loops), ...off];
}

/**
 * Stated moments of inertia that no body can have: one of a body is at most the sum of the other two (each is a sum of two of
 * Σmx², Σmy², Σmz²).
 */
function inertias(design: Design): Finding[] {
  return design.members.flatMap((m) => {
    if (!m.inertia) return [];
    const most = Math.max(...m.inertia);
    const rest = m.inertia[0] + m.inertia[1] + m.inertia[2] - most;
    if (most <= rest * (1 + 1e-9) && !possibleInertia([...m.inertia, ...(m.inertiaProducts ?? [0, 0, 0])] as unknown as MassProperties['inertia'])) {
      return [finding('inertia-impossible/products', [m.id], { member: m.name })];
    }
    return most > rest * (1 + 1e-9) ? [finding('inertia-impossible', [m.id], { member: m.name, most, rest: Number(rest.toPrecision(6)) })] : [];
  });
}

/** Freedoms that nothing drives of members without mass: no force can say how they move. */
function massless(compiled: Compiled, undriven: readonly { members: Id[] }[]): Finding[] {
  const masses = massesOf(compiled);
  return undriven.flatMap(({ members }) => {
    const ids = members.filter((m) => m !== FRAME);
    const weighs = ids.some((id) => (masses.get(id)?.mass ?? 0) > 0 || masses.get(id)?.inertia.some((x) => x !== 0));
    if (!ids.length || weighs) return [];
    return [finding('freedom-massless', ids, { names: listed(ids.map((id) => `“${compiled.structure.members.get(id)?.name ?? id}”`)) })];
  });
}

/** Where joints are stated and nothing moves, unless contradicting couplings are named for it. */
function still({ structure, design }: Compiled, freedoms: number, said: readonly Finding[]): Finding[] {
  if (freedoms > 0 || !structure.coordinates.length || said.some((f) => f.severity === 'fault')) return [];
  const moving = design.members.filter((m) => structure.bodyOf.get(m.id) !== 0);
  const names = listedUpTo(
    4,
    moving.map((m) => `“${m.name}”`),
  );
  return moving.length
    ? [
        finding(
          'no-motion',
          moving.map((m) => m.id),
          { names },
        ),
      ]
    : [];
}

/** The deepest places at which members stand in each other at a pose, one for each two members. */
function overlapping(compiled: Compiled, pose: Pose): Finding[] {
  const { elements, structure } = compiled;
  const said = new Set<string>();
  return new Bodies(compiled).at(pose).flatMap(({ members, elements: [a, b], depth, at, undecided }) => {
    const key = [...members].sort().join(' ');
    if (said.has(key)) return [];
    said.add(key);
    const place = at.map((x) => String(Number(x.toFixed(1)) + 0)).join(', ');
    return [
      finding(undecided ? 'bodies-overlap/undecided' : 'bodies-overlap', [...members, a, b], {
        name: structure.nameOf(members[0]),
        name2: structure.nameOf(members[1]),
        element: elements.get(a)?.name ?? a,
        element2: elements.get(b)?.name ?? b,
        depth: Number(depth.toPrecision(2)),
        at: `(${place}) mm`,
      }),
    ];
  });
}

/** Imported shapes whose content is not at hand: nobody looked whether they stand in anything. */
function unchecked(compiled: Compiled): Finding[] {
  return compiled.design.elements.flatMap((e) =>
    isShape(e) && !e.open && !holdsContent(e.content ?? '') ? [finding('shape-not-checked', [e.id], { element: e.name })] : [],
  );
}

function atHome(design: Design): { is: Ready; homes: Finding[]; working: Finding[] } {
  const compiled = compile(design);
  const pose = poseOf(compiled);
  const homes = goHome(pose);
  const forces = new Forces(pose);
  return { is: { compiled, pose, forces }, homes, working: findWorkingPoints(pose, forces) };
}

/**
 * A design ready to be moved and loaded: compiled, at its home, its sources at their working points. What can be said of it is
 * left to `analyse`.
 */
export const ready = (design: Design): Ready => atHome(design).is;

/**
 * Everything that can be said of a design at its home position: mobility, ratios, stops, ledger, findings. Never throws on a
 * document that the schema has passed.
 */
export function analyse(design: Design): Worked {
  const { is, homes, working } = atHome(design);
  const { compiled, pose, forces } = is;
  const mob = mobility(pose);
  const table = ledger(pose, forces);
  const ratios: RatioLine[] = [];
  const stops: StopsLine[] = [];
  for (const s of compiled.sources) {
    const from = compiled.structure.coordinates[s.coordinate];
    stops.push({ source: s.source.id, unit: from.motion === 'slide' ? 'mm' : 'turn', interval: mapStops(compiled, s.coordinate) });
    for (const c of compiled.structure.coordinates) {
      if (c.index === s.coordinate) continue;
      const r = exactRatio(compiled.reduction, c.index, s.coordinate);
      if (!r || r.q.n === 0n) continue;
      const texts = ratioTexts(r);
      const unit = (x: typeof c): string => (x.motion === 'slide' ? 'mm' : 'turn');
      ratios.push({
        from: from.joint.id,
        to: c.joint.id,
        exact: texts.exact,
        decimal: piToNumber(r),
        unit: `${unit(c)}/${unit(from)}`,
        inverse: piInverseText(r),
        inverseDecimal: 1 / piToNumber(r),
      });
    }
  }
  const findings = [
    ...compiled.findings,
    ...stopFindings(compiled),
    ...homes,
    ...engagementFindings(compiled),
    ...phases(compiled),
    ...inertias(design),
    ...heldByBrakes(forces, mob.findings),
    ...massless(compiled, mob.undriven),
    ...working,
    ...table.findings,
    ...boundless(pose, forces),
    ...idleLoads(pose),
    ...pointMasses(compiled),
    ...still(compiled, mob.freedoms, mob.findings),
    ...overlapping(compiled, pose),
    ...unchecked(compiled),
  ];
  markConsequences(compiled, findings);
  findings.push(...stale(design));
  if (!design.sources.length) {
    findings.push(finding('no-source', [], {}));
  }
  findings.sort((a, b) => RANK[a.severity] - RANK[b.severity]);
  return {
    compiled,
    pose,
    forces,
    masses: massesOf(compiled),
    freedoms: mob.freedoms,
    undriven: mob.undriven.map((u) => u.members.filter((m) => m !== FRAME)),
    freedomVectors: mob.undriven.map((u) => u.vector),
    ratios,
    stops,
    ledger: table,
    holding: holding(pose),
    findings,
  };
}
