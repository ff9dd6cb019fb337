import { type Design, FRAME } from '../fields/types';
import { BEARINGS_FIELD, type CarriedJoint, type GuidedJoint, jointKind } from '../joints/index';
import { rateBending } from './bending';
import { rateBands } from './bands';
import { rateBrakes } from './brakes';
import { rateBearings } from './bearings';
import { rateBevels } from './bevels';
import type { Rating, RatingLine, Unrated } from './protocol';
import { type Given, type Rater, type Results, wishesOf } from './rater';
import { rateContacts } from './contacts';
import { rateCrossedGears } from './crossed';
import { rateGuides } from './guides';
import { rateRopes } from './ropes';
import { rateScrews } from './screws';
import { rateShafts } from './shafts';
import { rateSources } from './sources';
import { rateSprings } from './springs';
import { rateTeeth } from './teeth';
import { rateWorms } from './worms';

/** Every method there is. */
const RATERS: readonly Rater[] = [
  rateTeeth,
  rateBevels,
  rateWorms,
  rateCrossedGears,
  rateBearings,
  rateGuides,
  rateShafts,
  rateBending,
  rateScrews,
  rateBands,
  rateRopes,
  rateContacts,
  rateSprings,
  rateSources,
  rateBrakes,
  nameTheRest,
];

/** Rates everything that a method covers, in all load cases; what none covers, or what is not stated for, is named. */
export function rate(compiled: Given['compiled'], cases: Given['cases']): Rating {
  const worst = new Map<string, RatingLine>();
  const unrated = new Map<string, Unrated>();
  const results: Results = {
    line(key, line) {
      const had = worst.get(key);
      if (!had || line.reserve < had.reserve) worst.set(key, line);
    },
    unrated(item, name, why) {
      const key = JSON.stringify([item, name, why]);
      if (!unrated.has(key)) unrated.set(key, { item, name, why });
    },
  };
  const given: Given = { compiled, cases: cases.filter((c) => !c.trouble), wishes: wishesOf(compiled.design.settings) };
  for (const { trouble: t } of cases) if (t) results.unrated(t.item, t.name, t.why);
  for (const rater of RATERS) rater(given, results);
  return { lines: [...worst.values()].sort((a, b) => a.reserve - b.reserve || a.name.localeCompare(b.name)), unrated: [...unrated.values()] };
}

/** What no method looks at: members that carry a load, joints that state no bearing, springs. */
function nameTheRest({ compiled: { design } }: Given, { unrated }: Results): void {
  for (const m of design.members) {
    if (m.id !== FRAME && m.kind !== 'shaft') unrated(m.id, m.name, 'the strength of bodies of members is not rated yet');
  }
  for (const j of design.joints as CarriedJoint[]) {
    if (j.type === 'fixed' || j.bearings?.length) continue;
    if (j.type === 'prismatic') {
      if ((j as GuidedJoint).shoeSpacing === undefined) unrated(j.id, j.name ?? j.id, 'the shoes of its guide are not stated');
      continue;
    }
    const takes = jointKind(j.type)?.fields?.some((f) => f.key === BEARINGS_FIELD.key);
    unrated(j.id, j.name ?? j.id, takes ? 'it states no bearings' : 'joints of other kinds than a turning or a sliding one are not rated yet');
  }
}

/** Fields that only a rating reads, of any item and of the bearings of a joint. */
const READ = [
  'materialGroup',
  'nutMaterial',
  'pressureLimit',
  'steel',
  'tensileStrength',
  'dynamicRating',
  'bush',
  'shoeMaterial',
  'shoeDynamic',
  'shoeStatic',
  'bronze',
  'strandLimit',
  'ratedPower',
  'breakingForce',
  'coil',
  'ratedTorque',
  'torqueLimits',
  'mostInertiaRatio',
  'mostStarts',
  'contactLimit',
  'bendingLimit',
  'wheelLoad',
  'clutchTorque',
] as const;
const states = (item: object): boolean => READ.some((key) => (item as Record<string, unknown>)[key] !== undefined);
/** Whether a design states anything that a rating could use. */
export const canBeRated = ({ elements, members, joints, couplings, loads, sources }: Design): boolean =>
  [elements, members, couplings, loads, sources].some((items) => items.some(states)) ||
  (joints as readonly CarriedJoint[]).some((j) => states(j) || j.bearings?.some(states));
