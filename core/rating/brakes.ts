import type { DrivingSource } from '../document/kinds';
import { num } from '../elements/index';
import { coordinateOf } from '../kinematics/index';
import type { JointBrake } from '../loads/index';
import { motionUnit } from '../units/index';
import type { RatingLine } from './protocol';
import { type Given, type Results, type Wishes, timesBorne, unknownIn } from './rater';

type Line = Pick<RatingLine, 'item' | 'name' | 'case' | 'what' | 'assumptions'>;
/** A brake against what it has to hold at rest, N·m or N. */
function brakeLine(results: Results, { brakeSafety }: Wishes, said: Line, holds: number, needed: number, unit: string): void {
  const value = timesBorne(holds, needed);
  results.line(`${said.item} brake`, {
    ...said,
    value,
    wanted: brakeSafety,
    reserve: value / brakeSafety,
    method: 'Brake against what it has to hold at rest',
    figures: [
      { symbol: 'TB', label: 'Brake', value: holds, unit },
      { symbol: 'T', label: 'What it has to hold', value: needed, unit },
    ],
  });
}

/** Brakes in the load cases: those of sources that let go, and those of joints that no source drives. */
export function rateBrakes({ compiled: { design, structure, sources }, cases, wishes }: Given, results: Results): void {
  const unitOf = (slide: boolean): string => motionUnit(slide).effort;
  for (const { source, coordinate } of sources) {
    const s: DrivingSource = source;
    const unit = unitOf(structure.coordinates[coordinate].motion === 'slide');
    for (const c of cases) {
      const held = num(s.brake) > 0 ? c.holding(s.id) : undefined;
      const assumptions = ['at rest; losses of the train help to hold', 'stopping and its heat are not rated'];
      const said = { item: s.id, name: s.name, case: c.name, what: 'source, brake', assumptions } as const;
      if (held) brakeLine(results, wishes, said, num(s.brake), held.needed, unit);
    }
  }
  for (const l of design.loads as JointBrake[]) {
    if (l.type !== 'joint-brake' || l.released === true) continue;
    const unit = unitOf(coordinateOf(structure, l.joint)?.motion === 'slide');
    const asked = cases.filter((c) => c.brakes.has(l.id));
    if (!asked.length) results.unrated(l.id, l.name, 'it holds nothing at rest: a source drives its joint, or nothing is free there');
    for (const c of asked) {
      const needed = c.brakes.get(l.id)!;
      const assumptions = ['at rest; heat and wear in slipping are not rated'];
      if (!Number.isFinite(needed)) results.unrated(l.id, l.name, unknownIn(c));
      else brakeLine(results, wishes, { item: l.id, name: l.name, case: c.name, what: 'brake', assumptions }, num(l.value), needed, unit);
    }
  }
}
