import { finding } from '../findings/index';
import type { Finding } from '../fields/types';
import type { RowForce } from '../couplings/index';
import type { Compiled } from '../kinematics/index';

/** From this part of what holds a band it is a caution. */
const NEAR = 0.8;
/** A rope pushes with more than rounding, N. */
const PUSHES = 1e-6;

/**
 * Where friction bands slip, or nearly: at a wheel the tensions T1 and T2 < T1 of its strands hold while T1/T2 is at most the
 * limit e^(μφ) (Euler–Eytelwein). What is used is (T1 − T2)/T2 of limit − 1. The pre-tension needed is the mean over the band's
 * length when the slack strand at the worst wheel just holds. N; the pull of the band's own mass at speed is left out.
 */
export function slipFindings(compiled: Compiled, forces: readonly RowForce[]): Finding[] {
  const out: Finding[] = [];
  for (const [r, { coupling, model }] of compiled.couplings.entries()) {
    const pulls = model.law === 'proportional' ? model.pulls : undefined;
    const push = pulls === undefined ? 0 : -forces[r].port[pulls];
    if (push > PUSHES) out.push(finding('rope-slack', [coupling.id], { name: coupling.name ?? coupling.id, force: push.toPrecision(3) }));
    const band = model.law === 'band' ? model.band : undefined;
    if (!band || band.limits.every((x) => x === Infinity)) continue;
    const tension = forces[r].strands;
    const n = tension.length;
    const most = Math.max(...tension);
    let worst = -1,
      used = 0,
      more = -Infinity;
    for (let i = 0; i < n; i++) {
      const limit = band.limits[i];
      if (limit === Infinity) continue;
      const [a, b] = [tension[i], tension[(i + n - 1) % n]];
      const [high, low] = [Math.max(a, b), Math.min(a, b)];
      if (high - low <= 1e-9 * most) continue;
      const share = (high - low) / ((limit - 1) * Math.max(low, 1e-12 * high));
      if (share > used) [used, worst] = [share, i];
      // By how much every strand would have to be tighter for this wheel just to hold.
      more = Math.max(more, (high - limit * low) / (limit - 1));
    }
    if (worst < 0 || used < NEAR) continue;
    const total = band.lengths.reduce((s, x) => s + x, 0);
    const mean = tension.reduce((s, t, i) => s + t * band.lengths[i], 0) / total;
    const wheel = compiled.elements.get(coupling.wheels?.[worst] ?? '');
    const said = { name: coupling.name ?? coupling.id, element: wheel?.name ?? '', needed: Math.max(0, mean + more).toPrecision(3) };
    const ids = [coupling.id, ...(wheel ? [wheel.id] : [])];
    if (band.pretension <= 0) out.push(finding('belt-slips/open', ids, said));
    else if (used > 1 + 1e-9) out.push(finding('belt-slips', ids, said));
    else out.push(finding('belt-slips/near', ids, { ...said, used: (100 * used).toFixed(0) }));
  }
  return out;
}
