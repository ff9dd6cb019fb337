import type { Member } from '../fields/types';
import { STEEL } from '../forces/index';
import type { Figure, RatingLine } from './protocol';
import type { Given, Results } from './rater';
import { askedShafts, criticalSpeed, weightsAlong } from './shaft-bending';

/** How much below its critical speed a shaft runs at most: common practice. */
const WHIRL_RESERVE = 1.25;
const METHOD = 'Beam theory; limits after Shigley, Mechanical Engineering Design';

/** Slopes and deflections of shafts at bearings and gears, and their critical speed. */
export function rateBending({ compiled, cases, wishes }: Given, results: Results): void {
  const { design } = compiled;
  for (const { member, bends, pieces } of askedShafts(design)) {
    const m = design.members.find((x) => x.id === member)!;
    const KA = wishes.applicationFactor;
    let supports: readonly number[] | undefined;
    let fastest = { speed: 0, case: '' };
    for (const c of cases) {
      const loads = c.instants.flatMap((i) => i.shaft(member) ?? []);
      supports ??= loads[0]?.supports;
      for (const { speed } of loads) if (speed > fastest.speed) fastest = { speed, case: c.name };
      const known = loads.flatMap((l) => l.bends ?? []);
      if (loads.length < c.instants.length || !known.flat().every(Number.isFinite)) {
        results.unrated(m.id, m.name, `its forces are not known in “${c.name}”`);
        continue;
      }
      if (!known.length) continue;
      bends.forEach((place, k) => {
        const [slope, deflection] = [0, 1].map((n) => KA * Math.max(...loads.map((l) => l.bends?.[k][n] ?? 0)));
        const at = { item: m.id, name: `${m.name}: ${place.name}`, case: c.name, wanted: 1, method: METHOD, assumptions: ASSUMED };
        const one = (what: RatingLine['what'], has: number, may: number, figures: Figure[]): void => {
          const value = has > 0 ? may / has : Infinity;
          results.line(`${m.id} ${place.at} ${place.name} ${what}`, {
            ...at,
            what,
            value,
            reserve: value,
            figures: [APPLICATION(KA), ...figures, MODULUS],
          });
        };
        one('shaft, slope', slope, place.slope, [
          { symbol: 'θ', label: 'Greatest slope, mrad', value: 1e3 * slope },
          { symbol: 'θzul', label: 'Permissible slope, mrad', value: 1e3 * place.slope },
        ]);
        if (place.deflection !== undefined) {
          one('shaft, deflection', deflection, place.deflection, [
            { symbol: 'f', label: 'Greatest deflection', value: deflection, unit: 'mm' },
            { symbol: 'fzul', label: 'Permissible deflection', value: place.deflection, unit: 'mm' },
          ]);
        }
      });
    }
    const critical = supports && criticalSpeed(weightsAlong(design, m), supports, pieces);
    if (critical === undefined) results.unrated(m.id, m.name, 'without round bars on two bearings neither deflection nor critical speed is rated');
    else if (fastest.case) results.line(`${m.id} critical`, criticalLine(m, critical, fastest));
  }
}

const APPLICATION = (value: number): Figure => ({ symbol: 'KA', label: 'Application factor', value });
const MODULUS: Figure = { symbol: 'E', label: 'Modulus of elasticity', value: STEEL, unit: 'MPa' };
const ASSUMED = ['stiff bearings at the outermost places; hubs stiffen nothing', 'the lower of the figures that the source gives'];

const criticalLine = (m: Member, critical: number, fastest: { speed: number; case: string }): RatingLine => ({
  item: m.id,
  name: m.name,
  case: fastest.case,
  what: 'shaft, critical speed',
  value: critical / fastest.speed,
  wanted: WHIRL_RESERVE,
  reserve: critical / fastest.speed / WHIRL_RESERVE,
  method: 'Lowest bending vibration, by Stodola',
  figures: [
    { symbol: 'n', label: 'Greatest speed', value: fastest.speed, unit: 'rev/min' },
    { symbol: 'nk', label: 'Critical speed', value: critical, unit: 'rev/min', formula: 'ω²·Σ fij·mj·yj = yi' },
    MODULUS,
  ],
  assumptions: [
    'stiff bearings at the outermost places; hubs stiffen nothing and weigh where their centre is',
    'what it has in reserve is speed, not load',
  ],
});
