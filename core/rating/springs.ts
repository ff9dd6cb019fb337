import { coordinateOf } from '../kinematics/index';
import type { JointSpring } from '../loads/index';
import {
  type Helix,
  type RatedSpring,
  PARTS,
  bendingCurvature,
  bendingStress,
  bucklingDeflection,
  curvatureFactor,
  helixRate,
  indexOf,
  leastGap,
  shearStress,
  solidLength,
  springFatigue,
  torsionRate,
  wireStrength,
} from './coil';
import type { Figure, RatingLine } from './protocol';
import { type Given, type Results, knownIn, timesBorne } from './rater';

/** Coils of springs by EN 13906: stress, solid length, buckling; in runs fatigue of compression springs. */
export function rateSprings(given: Given, results: Results): void {
  const { design } = given.compiled;
  for (const l of design.loads) {
    if (l.type !== 'spring' && l.type !== 'joint-spring') continue;
    const spring = l as RatedSpring;
    if (spring.coil === undefined) results.unrated(l.id, l.name, 'the coil of the spring is not stated');
    else rateCoil(given, results, spring);
  }
}

function rateCoil({ compiled, cases, wishes }: Given, results: Results, l: RatedSpring): void {
  const no = (why: string): void => results.unrated(l.id, l.name, why);
  const { wireDiameter: wire, coilDiameter: mean, coils } = l;
  if (wire === undefined || mean === undefined || coils === undefined) return no('wire, diameter or coils of the spring are not stated');
  const helix: Helix = { wire, mean, coils };
  if (!(indexOf(helix) > 1)) return no('its coil is no larger than its wire');
  const strength = l.wireStrength ?? (l.wire && wireStrength(l.wire, wire));
  if (strength === undefined) return no('the wire of the spring is not stated');
  const turning = l.type === 'joint-spring' && coordinateOf(compiled.structure, (l as JointSpring).joint)?.motion === 'turn';
  if ((l.coil === 'torsion') !== turning) {
    return no(turning ? 'a spring of a turning joint is rated as a torsion spring' : 'a torsion spring is rated at a turning joint');
  }
  const torsion = l.coil === 'torsion';
  const rate = torsion ? torsionRate(helix) : helixRate(helix);
  const stated = (l.rate ?? 0) * (torsion ? 1e3 : 1);
  const off = stated > 0 ? rate / stated - 1 : NaN;
  const assumptions = [
    ...(Math.abs(off) > 0.02
      ? [
          `its coil gives a rate of ${(torsion ? rate / 1e3 : rate).toPrecision(3)} ${torsion ? 'N·m/deg' : 'N/mm'}, ${(100 * off).toFixed(0)} % off that stated`,
        ]
      : []),
    ...((l.damping ?? 0) > 0 ? ['the force includes that of its damper'] : []),
    ...(l.wireStrength === undefined ? [`wire EN 10270-1 ${l.wire}`] : ['tensile strength as stated']),
  ];
  for (const [c, all] of knownIn(cases, no, (i) => ({ load: Math.abs(i.spring(l.id) ?? NaN) }))) {
    const loads = all.map((x) => x.load);
    const [least, most] = [Math.min(...loads), Math.max(...loads)];
    const sizes: Figure[] = [
      torsion
        ? { symbol: 'M', label: 'Greatest moment', value: most, unit: 'N·m' }
        : { symbol: 'F', label: 'Greatest force', value: most, unit: 'N' },
      { symbol: 'd', label: 'Wire diameter', value: wire, unit: 'mm' },
      { symbol: 'D', label: 'Mean coil diameter', value: mean, unit: 'mm' },
      { symbol: 'n', label: 'Active coils', value: coils },
    ];
    const take = (
      what: RatingLine['what'],
      wanted: number,
      value: number,
      method: string,
      figures: Figure[],
      reserve = value / wanted,
      more: string[] = [],
    ): void =>
      results.line(`${l.id} ${what}`, {
        item: l.id,
        name: l.name,
        case: c.name,
        what,
        value,
        wanted,
        reserve,
        method,
        figures: [...sizes, ...figures],
        assumptions: [...assumptions, ...more],
      });
    const strengthFigure: Figure = { symbol: 'Rm', label: 'Tensile strength of the wire', value: strength, unit: 'MPa' };
    if (torsion) {
      const stress = bendingStress(helix, 1e3 * most);
      const may = PARTS.torsion * strength;
      take(
        'spring, stress',
        1,
        timesBorne(may, stress),
        'EN 13906-3, steady load',
        [
          { symbol: 'RMθ', label: 'Rate of the coil', value: rate / 1e3, unit: 'N·m/deg', formula: 'E·d⁴/(3667·D·n)' },
          { symbol: 'σ', label: 'Bending stress', value: stress, unit: 'MPa', formula: 'σ = 32·M/(π·d³)' },
          { symbol: 'q', label: 'Factor of the curvature, for loads that change', value: bendingCurvature(helix) },
          strengthFigure,
          { symbol: 'σzul', label: 'Permissible stress', value: may, unit: 'MPa', formula: '0.7·Rm' },
        ],
        undefined,
        ['its legs, and its fatigue, are not rated'],
      );
      continue;
    }
    const compression = l.coil === 'compression';
    const part = compression ? PARTS.compression : PARTS.extension;
    const stress = shearStress(helix, most);
    const may = part * strength;
    const rateFigure: Figure = { symbol: 'R', label: 'Rate of the coil', value: rate, unit: 'N/mm', formula: 'R = G·d⁴/(8·D³·n)' };
    take(
      'spring, stress',
      1,
      timesBorne(may, stress),
      compression ? 'EN 13906-1, steady load' : 'EN 13906-2, steady load',
      [
        rateFigure,
        { symbol: 'τ', label: 'Shear stress', value: stress, unit: 'MPa', formula: 'τ = 8·D·F/(π·d³)' },
        strengthFigure,
        { symbol: 'τzul', label: 'Permissible stress', value: may, unit: 'MPa', formula: `${part}·Rm` },
      ],
      undefined,
      compression ? [] : ['its hooks and its initial tension are not rated'],
    );
    if (!compression) continue;
    if (l.coilLength === undefined) {
      no('the unloaded length of its coil is not stated: no solid length or buckling');
    } else {
      const travel = most / rate;
      const room = l.coilLength - solidLength(helix) - leastGap(helix);
      take(
        'spring, travel',
        1,
        timesBorne(room, travel),
        'EN 13906-1',
        [
          rateFigure,
          { symbol: 's', label: 'Greatest deflection', value: travel, unit: 'mm' },
          { symbol: 'L0', label: 'Unloaded length', value: l.coilLength, unit: 'mm' },
          { symbol: 'Lc', label: 'Solid length', value: solidLength(helix), unit: 'mm', formula: 'Lc = (n + 2)·d' },
          { symbol: 'Sa', label: 'Least gaps together', value: leastGap(helix), unit: 'mm', formula: 'Sa = n·(0.0015·D²/d + 0.1·d)' },
        ],
        undefined,
        ['ends closed and ground'],
      );
      const buckles = bucklingDeflection(helix, l.coilLength);
      if (buckles < Infinity) {
        take(
          'spring, buckling',
          1,
          timesBorne(buckles, travel),
          'EN 13906-1',
          [
            rateFigure,
            { symbol: 's', label: 'Greatest deflection', value: travel, unit: 'mm' },
            { symbol: 'sK', label: 'Deflection at which it buckles', value: buckles, unit: 'mm' },
          ],
          undefined,
          ['both ends on parallel seats (ν = 0.5); neither bolt nor sleeve guides it'],
        );
      }
    }
    if (!c.run || most <= least) continue;
    const k = curvatureFactor(helix);
    const [amplitude, middle] = [(k * shearStress(helix, most - least)) / 2, (k * shearStress(helix, most + least)) / 2];
    try {
      take(
        'spring, fatigue',
        wishes.shaftSafety,
        springFatigue(amplitude, middle, strength),
        'Gerber with Zimmerli’s data (Shigley, Mechanical Engineering Design)',
        [
          { symbol: 'k', label: 'Factor of the curvature', value: k, formula: 'k = (w + 0.5)/(w − 0.75)' },
          { symbol: 'τa', label: 'Amplitude of the stress', value: amplitude, unit: 'MPa' },
          { symbol: 'τm', label: 'Mean stress', value: middle, unit: 'MPa' },
          strengthFigure,
        ],
        undefined,
        ['wire without shot peening, life without end'],
      );
    } catch (e) {
      if (!(e instanceof RangeError)) throw e;
      no(e.message);
    }
  }
}
