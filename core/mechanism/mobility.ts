import { Finding, Id, finding } from '../fields/types';
import type { Compiled } from './compile';
import { loopOf } from './eliminate';
import type { Mechanism } from './mechanism';

/** What can still move at the present pose. */
export interface Mobility {
  /** Independent motions of the mechanism, sources let go. */
  freedoms: number;
  /** Those that no source drives, each with the members that move together. */
  undriven: { members: Id[]; couples: boolean; vector: Float64Array }[];
  findings: Finding[];
}

const list = (names: string[]): string => (names.length < 2 ? (names[0] ?? '') : `${names.slice(0, -1).join(', ')} and ${names[names.length - 1]}`);

/** The freedoms that remain when every one-way coupling counts as holding, and the couplings that take the others. */
function oneWayDriven(m: Mechanism, held: readonly number[], left: Float64Array[]): { left: Float64Array[]; rows: Id[] } {
  const ways = m.oneWays.filter((w) => !w.lifted);
  if (!ways.length || !left.length) return { left, rows: [] };
  const rows: Id[] = [];
  let now = left;
  for (const w of ways) {
    m.grip(w);
    const next = m.freedoms(held);
    if (next.length < now.length) rows.push(w.coupling);
    now = next;
  }
  m.grip(undefined);
  return { left: now, rows };
}

/** Mobility by numeric rank at the present pose, in words. */
export function mobility(mechanism: Mechanism): Mobility {
  const compiled: Compiled = mechanism.compiled;
  const { structure, reduction, rows, sources } = compiled;
  const findings: Finding[] = [];
  const nameOfCoupling = (k: number): string => {
    const c = compiled.design.couplings.find((x) => x.id === rows[k].coupling);
    return `“${c?.name ?? rows[k].coupling}”`;
  };
  for (const k of reduction.locking) {
    const loop = loopOf(rows, k);
    findings.push(
      finding(
        'stop',
        'couplings-contradict',
        loop.map((i) => rows[i].coupling),
        loop.length > 1
          ? `${list(loop.map(nameOfCoupling))} cannot all hold: round this loop the ratios do not close, so nothing in it can turn; change a tooth count or take one coupling out`
          : `${nameOfCoupling(k)} ties members that cannot move, so it locks them; take it out or free one of them`,
      ),
    );
  }
  for (const k of reduction.redundant) {
    const loop = loopOf(rows, k);
    findings.push(
      finding(
        'note',
        'coupling-redundant',
        loop.map((i) => rows[i].coupling),
        `${nameOfCoupling(k)} repeats what ${list(loop.filter((i) => i !== k).map(nameOfCoupling)) || 'its members'} say already: the forces round this loop depend on fits and cannot be told apart`,
      ),
    );
  }
  for (const c of reduction.overdriven) {
    const s = sources.find((x) => x.coordinate === c)!;
    findings.push(
      finding(
        'stop',
        'two-sources-one-freedom',
        [s.source.id],
        `“${s.source.name}” drives a freedom that ${reduction.sums[c].size ? 'other sources drive already' : 'the couplings hold fast'}: remove it or free what it drives`,
      ),
    );
  }
  const held = sources.map((s) => s.coordinate).filter((c) => !reduction.overdriven.includes(c));
  const left = mechanism.freedoms(held);
  const memberOf = new Map<number, Id>();
  for (const [id, b] of structure.bodyOf) if (!memberOf.has(b)) memberOf.set(b, id);
  // What a pawl or one-way clutch moves in one sense is driven, if only by and by.
  const pushed = oneWayDriven(mechanism, held, left);
  for (const w of pushed.rows) {
    findings.push(
      finding(
        'note',
        'moves-one-way',
        [w],
        `${nameOfCoupling(rows.findIndex((r) => r.coupling === w))} moves what it drives in one sense only; in the other it stands where it is`,
      ),
    );
  }
  const undriven = pushed.left.map((vector) => {
    const rates = mechanism.moved(vector);
    let most = 0;
    for (const r of rates.values()) most = Math.max(most, Math.abs(r));
    const coordinates = [...rates.keys()].filter((i) => Math.abs(rates.get(i)!) > 1e-9 * most).sort((x, y) => x - y);
    const moving = new Set(coordinates.map((i) => structure.coordinates[i].joint.child));
    return { members: [...moving], couples: moving.size > 1, vector };
  });
  const supports = new Map<Id, string>();
  for (const { coupling, model } of compiled.couplings) {
    for (const p of model.ports) {
      if (p.carrier !== 'frame' && (structure.bodyOf.get(p.carrier) ?? 0) !== 0) supports.set(p.carrier, coupling.name ?? coupling.id);
    }
  }
  for (const f of undriven) {
    const support = f.members.find((m) => supports.has(m));
    if (support) {
      findings.push(
        finding(
          'caution',
          'support-left-free',
          [support, ...f.members.filter((m) => m !== support)],
          `${structure.nameOf(support)} carries the axes of “${supports.get(support)}” and is itself left free, so it can turn where the driven wheel should: fasten it to the frame, or drive it`,
        ),
      );
    }
    const shown = f.members.slice(0, 6).map(structure.nameOf);
    const names = list(f.members.length > 6 ? [...shown, `${f.members.length - 6} more`] : shown);
    findings.push(
      finding(
        'caution',
        'freedom-undriven',
        f.members,
        f.members.length > 1
          ? `${names} move together and nothing drives them: give one of them a source, or couple them to a member that is driven`
          : `${names} can move and nothing drives it: give it a source, a coupling, or a fixed joint`,
      ),
    );
  }
  return { freedoms: mechanism.freedomCount(), undriven, findings };
}
