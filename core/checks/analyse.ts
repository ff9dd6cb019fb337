import { FRAME, type Design, type Finding, type Id } from '../fields/types';
import { piInverseText, ratioTexts } from './ratio-text';
import {
  Mechanism,
  compile,
  exactRatio,
  mapStops,
  mobility,
  phaseFindings,
  setPhases,
  stopFindings,
  type Compiled,
  type Interval,
} from '../mechanism/index';
import { Forces, Holding, Ledger, findWorkingPoints, holding, ledger, massesOf } from '../forces/index';
import { planetFindings, planetarySets } from '../sizing/index';
import type { MassProperties } from '../elements/index';
import { piToNumber } from '../exact/index';

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

/** An analysis with the machinery that made it, for the page to go on with. */
export interface Worked extends Analysis {
  compiled: Compiled;
  mechanism: Mechanism;
  forces: Forces;
  masses: Map<Id, MassProperties>;
}

const RANK = { stop: 0, caution: 1, note: 2 };

/** Puts joints at home, as far as stops and couplings let them. */
export function goHome(mechanism: Mechanism): void {
  const { compiled } = mechanism;
  const start = compiled.sources[0]?.coordinate;
  if (start === undefined) return;
  const interval = mapStops(compiled, start);
  const c = compiled.structure.coordinates[start];
  const home = c.joint.home === undefined ? 0 : Number(c.joint.home) / (c.motion === 'slide' ? 1 : 360);
  const at = Math.min(Math.max(home, interval.lower?.at ?? -Infinity), interval.upper?.at ?? Infinity);
  if (at !== 0) mechanism.solve([start], [at * mechanism.scale[start]]);
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

/** Everything that can be said of a design at its home position: mobility, ratios, stops, ledger, findings. Never throws on a document that the schema has passed. */
export function analyse(design: Design): Worked {
  const compiled = compile(design);
  const mechanism = new Mechanism(compiled);
  goHome(mechanism);
  const mob = mobility(mechanism);
  const forces = new Forces(mechanism);
  const working = findWorkingPoints(mechanism, forces);
  const table = ledger(mechanism, forces);
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
  const findings = [...compiled.findings, ...stopFindings(compiled), ...phases(compiled), ...mob.findings, ...working, ...table.findings];
  if (!design.sources.length) {
    findings.push({ code: 'no-source', severity: 'note', ids: [], message: 'nothing drives this design yet: give it a source on the Duty stage' });
  }
  findings.sort((a, b) => RANK[a.severity] - RANK[b.severity]);
  return {
    compiled,
    mechanism,
    forces,
    masses: massesOf(compiled),
    freedoms: mob.freedoms,
    undriven: mob.undriven.map((u) => u.members.filter((m) => m !== FRAME)),
    freedomVectors: mob.undriven.map((u) => u.vector),
    ratios,
    stops,
    ledger: table,
    holding: holding(mechanism),
    findings,
  };
}
