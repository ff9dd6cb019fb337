/** npm run bench:rating: how long a rating takes beside the load cases and the run that it reads. */
import { analyse, casesOf } from '../core/checks/index';
import type { Design } from '../core/document/index';
import { rate, runCase, savedRuns, steadyCase } from '../core/rating/index';
import { computedRuns } from '../core/sizing/index';
import { row } from '../core/testing/designs';
import { line, median, ms } from './measure';

const CASES = 10;
const FRAMES = Number(process.env['FRAMES'] ?? 2000);

/** A train of pairs with everything stated: gears of hardened steel, shafts with a bar, two bearings and two keys each. */
function train(pairs: number): Design {
  const { design } = row(Array.from({ length: pairs }, (_, k) => (k % 2 ? [19, 23] : [23, 19]) as readonly [number, number]));
  const bearing = (at: number): object => ({
    at,
    thrust: at < 0 ? 'takes' : 'free',
    form: 'rolling',
    inner: 8,
    outer: 22,
    width: 7,
    block: 'no',
    dynamicRating: 3000,
    staticRating: 1400,
  });
  return {
    ...design,
    elements: [
      ...design.elements.map((e) => ({ ...e, materialGroup: 'case-hardened steel' })),
      ...design.members.map((m) => ({ id: `bar-${m.id}`, name: 'Bar', type: 'rod', member: m.id, diameter: 8, length: 80 })),
    ],
    members: design.members.map((m) => ({
      ...m,
      kind: 'shaft',
      steel: 'C45E quenched and tempered',
      keys: [
        { at: 0, length: 6 },
        { at: 10, length: 6 },
      ],
    })),
    joints: design.joints.map((j) => ({ ...j, bearings: [bearing(-30), bearing(30)] })),
    cases: Array.from({ length: CASES - 1 }, (_, k) => ({ id: `case${k}`, name: `Case ${k}`, loads: [], speeds: [] })),
    runs: [{ id: 'run', name: 'Run', duration: 10, frames: FRAMES }],
  } as unknown as Design;
}

const PAIRS = 100;
console.log(`Rating of a train of ${PAIRS} pairs (${train(PAIRS).elements.length} elements), ${CASES} load cases, a run of ${FRAMES} instants`);
const design = train(PAIRS);
const worked = analyse(design);
const cases = casesOf(worked);
const [run] = computedRuns(design);
const steps: [string, number, () => void][] = [
  ['analysis and load cases', 3, () => void casesOf(analyse({ ...design }))],
  ['the run', 1, () => void computedRuns({ ...design })],
  ['what acts at each instant of the run', 1, () => void runCase(run)],
  ['what acts in the load cases', 3, () => void cases.map(steadyCase)],
  ['rating of all of it', 1, () => void rate(worked.compiled, [...cases.map(steadyCase), ...savedRuns(design)])],
];
for (const [name, rounds, work] of steps) line(`  ${name}`, ms(median(work, 1, rounds)));
