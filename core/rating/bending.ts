import type { Member } from '../fields/types';
import { STEEL } from '../forces/index';
import type { Figure, RatingLine } from './protocol';
import { type Given, type Results, WHIRL_RESERVE, applicationFigure, timesBorne, unknownIn } from './rater';
import { askedShafts, criticalSpeed, weightsAlong } from './shaft-bending';

const METHOD = 'Beam theory; limits after Shigley, Mechanical Engineering Design';

/** Slopes and deflections of shafts at bearings and gears, and their critical speed. */
export function rateBending({ compiled, cases, wishes }: Given, results: Results): void {
  const { design } = compiled;
  for (const { member, bends, pieces } of askedShafts(design)) {
    const m = design.members.find((x) => x.id === member)!;
    const KA = wishes.applicationFactor;
    let supports: readonly number[] | undefined;
    let carried = false;
    let fastest = { speed: 0, case: '' };
    for (const c of cases) {
      const loads = c.instants.flatMap((i) => i.shaft(member) ?? []);
      supports ??= loads[0]?.supports;
      for (const { speed } of loads) if (speed > fastest.speed) fastest = { speed, case: c.name };
      const known = loads.flatMap((l) => (l.bends ? [l.bends] : []));
      if (loads.length < c.instants.length || !known.flat(2).every(Number.isFinite)) {
        results.unrated(m.id, m.name, unknownIn(c));
        continue;
      }
      // Its bars and bearings are the same at all instants.
      if (!known.length) continue;
      carried = true;
      bends.forEach((place, k) => {
        const [slope, deflection] = [0, 1].map((n) => KA * Math.max(...known.map((l) => l[k][n])));
        const at = { item: m.id, name: `${m.name}: ${place.name}`, case: c.name, wanted: 1, method: METHOD, assumptions: ASSUMED };
        const one = (what: RatingLine['what'], has: number, may: number, figures: Figure[]): void => {
          const value = timesBorne(may, has);
          results.line(`${m.id} ${place.at} ${place.name} ${what}`, {
            ...at,
            what,
            value,
            reserve: value,
            figures: [applicationFigure(wishes), ...figures, MODULUS],
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
    if (!supports) continue;
    const critical = criticalSpeed(weightsAlong(design, m), supports, pieces);
    if (!carried) results.unrated(m.id, m.name, 'without round bars on two bearings neither deflection nor critical speed is rated');
    else if (critical === undefined) results.unrated(m.id, m.name, 'without weight between its bearings it has no critical speed to rate');
    else if (fastest.case) results.line(`${m.id} critical`, criticalLine(m, critical, fastest));
  }
}

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
