import type { Member } from '../fields/types';
import type { Inside } from '../forces/index';
import { type Section, type SectionStress, sectionOf } from './din-743';

/** Directions round a shaft that hardly turns in which its bending is followed. */
const FIBRES = 36;

/**
 * Mean, amplitude and greatest stresses over the instants of a case. Bending is followed round a shaft that stands or hardly
 * turns, and reverses in one that turns; torque, thrust and standing bending come and go as is stated besides.
 */
export function courseOf(
  inside: readonly Inside[],
  turns: boolean,
  course: NonNullable<Member['loadCourse']>,
  section: Section,
  KA: number,
): SectionStress {
  const size = sectionOf(section);
  const range = (values: number[]): [number, number] => {
    let [low, high] = [Math.min(...values), Math.max(...values)];
    if (course === 'pulsating') [low, high] = [Math.min(low, 0), Math.max(high, 0)];
    if (course === 'reversing') high = Math.max(high, -low);
    return course === 'reversing' ? [-high, high] : [low, high];
  };
  const of = ([low, high]: [number, number], per: number): [mean: number, amplitude: number, greatest: number] => [
    (KA * Math.abs(high + low)) / 2 / per,
    (KA * (high - low)) / 2 / per,
    (KA * Math.max(Math.abs(high), Math.abs(low))) / per,
  ];
  const along = of(range(inside.map((i) => i.thrust)), size.along);
  const torsion = of(range(inside.map((i) => i.torsion)), size.torsion / 1e3);
  const most = Math.max(...inside.map((i) => Math.hypot(...i.bending)));
  let bending: [number, number, number] = of([-most, most], size.bending / 1e3);
  if (!turns) {
    bending = [0, 0, bending[2]];
    for (let k = 0; k < FIBRES; k++) {
      const angle = (Math.PI * k) / FIBRES;
      const one = of(range(inside.map((i) => Math.cos(angle) * i.bending[0] + Math.sin(angle) * i.bending[1])), size.bending / 1e3);
      if (one[1] > bending[1] || (one[1] === bending[1] && one[0] > bending[0])) bending = [one[0], one[1], bending[2]];
    }
  }
  const nth = (k: 0 | 1 | 2): SectionStress['mean'] => ({ along: along[k], bending: bending[k], torsion: torsion[k] });
  return { mean: nth(0), amplitude: nth(1), greatest: nth(2) };
}
