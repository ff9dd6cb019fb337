import { listed, listedUpTo } from '../units/index';
import { finding } from '../findings/index';
import { Finding, Id } from '../fields/types';
import type { Compiled } from './compiled';
import { loopOf, ratioRound } from './eliminate';
import type { Pose } from './pose';

/** What can still move at the present pose. */
export interface Mobility {
  /** Independent motions of the mechanism, sources let go. */
  freedoms: number;
  /** Those that no source drives, each with the members that move together. */
  undriven: { members: Id[]; couples: boolean; vector: Float64Array }[];
  findings: Finding[];
}

/** A ratio as a sentence has it: five digits, and a real minus. */
const sayRatio = (r: number): string => String(Number(r.toPrecision(5))).replace('-', '−');

/** The freedoms that remain when every one-way coupling counts as holding, and the couplings that take the others. */
function oneWayDriven(m: Pose, held: readonly number[], left: Float64Array[]): { left: Float64Array[]; rows: Id[] } {
  const { grips, rows: bound } = m.kinematics;
  const ways = [...grips].filter((r) => !bound[r].grip!.touches && !bound[r].grip!.lifted);
  if (!ways.length || !left.length) return { left, rows: [] };
  const rows: Id[] = [];
  let now = left;
  for (const w of ways) {
    m.grip(w);
    const next = m.freedoms(held);
    if (next.length < now.length) rows.push(bound[w].coupling);
    now = next;
  }
  m.grip(undefined);
  return { left: now, rows };
}

/** Mobility by numeric rank at the present pose, in words. */
export function mobility(pose: Pose): Mobility {
  const compiled: Compiled = pose.compiled;
  const { structure, reduction, rows, sources } = compiled;
  const findings: Finding[] = [];
  const nameOfCoupling = (k: number): string => {
    const c = compiled.design.couplings.find((x) => x.id === rows[k].coupling);
    return `“${c?.name ?? rows[k].coupling}”`;
  };
  const contradictions: Id[][] = [];
  const stands = (k: number): boolean => rows[k].terms.every((t) => reduction.sums[t.coordinate].size === 0);
  /** What stands still because of a contradiction that is named already. */
  const follows: { id: Id; name: string }[] = [];
  for (const k of reduction.locking) {
    const loop = loopOf(rows, k);
    const ids = loop.map((i) => rows[i].coupling);
    // Found after a contradiction and closing no loop of its own, or one through what stands already: it only follows.
    if (contradictions.length && (loop.length < 2 || contradictions.some((c) => ids.some((id) => c.includes(id))))) {
      follows.push({ id: rows[k].coupling, name: nameOfCoupling(k) });
      continue;
    }
    if (loop.length < 2) {
      findings.push(finding('couplings-contradict/locked', ids, { name: nameOfCoupling(k) }));
      continue;
    }
    const ratio = ratioRound(rows, loop);
    const names = listed(loop.map(nameOfCoupling));
    findings.push(
      ratio === undefined
        ? finding('couplings-contradict/loop', ids, { names })
        : finding('couplings-contradict', ids, { names, ratio: sayRatio(ratio) }),
    );
    contradictions.push(ids);
  }
  for (const k of reduction.redundant) {
    if (contradictions.length && stands(k)) {
      follows.push({ id: rows[k].coupling, name: nameOfCoupling(k) });
      continue;
    }
    const loop = loopOf(rows, k);
    findings.push(
      finding(
        'coupling-redundant',
        loop.map((i) => rows[i].coupling),
        { name: nameOfCoupling(k), others: listed(loop.filter((i) => i !== k).map(nameOfCoupling)) || 'its members' },
      ),
    );
  }
  for (const c of reduction.overdriven) {
    const s = sources.find((x) => x.coordinate === c)!;
    const stuck = reduction.sums[c].size === 0;
    if (stuck && contradictions.length) follows.push({ id: s.source.id, name: `“${s.source.name}”` });
    else {
      const word = stuck ? 'the couplings hold fast' : 'other sources drive already';
      findings.push(finding('two-sources-one-freedom', [s.source.id], { source: s.source.name, word }));
    }
  }
  if (follows.length) {
    const names = listed(follows.map((x) => x.name));
    findings.push({
      ...finding(
        'stands-because',
        follows.map((x) => x.id),
        { names },
      ),
      because: contradictions.flat(),
    });
  }
  const held = sources.map((s) => s.coordinate).filter((c) => !reduction.overdriven.includes(c));
  const left = pose.freedoms(held);
  const memberOf = new Map<number, Id>();
  for (const [id, b] of structure.bodyOf) if (!memberOf.has(b)) memberOf.set(b, id);
  // What a pawl or one-way clutch moves in one sense is driven, if only by and by.
  const pushed = oneWayDriven(pose, held, left);
  for (const w of pushed.rows) {
    findings.push(finding('moves-one-way', [w], { name: nameOfCoupling(rows.findIndex((r) => r.coupling === w)) }));
  }
  const undriven = pushed.left.map((vector) => {
    const rates = pose.moved(vector);
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
    // Where nothing drives yet, everything is left free: that finding says so.
    const support = sources.length ? f.members.find((m) => supports.has(m)) : undefined;
    if (support) {
      findings.push(
        finding('support-left-free', [support, ...f.members.filter((m) => m !== support)], {
          member: structure.nameOf(support),
          support: supports.get(support)!,
        }),
      );
    }
    const names = listedUpTo(6, f.members.map(structure.nameOf));
    findings.push(finding(f.members.length > 1 ? 'freedom-undriven/together' : 'freedom-undriven', f.members, { names }));
  }
  return { freedoms: pose.freedomCount(), undriven, findings };
}
