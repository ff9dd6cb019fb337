import type { DrivingSource, WantedOutput } from '../document/kinds';
import { num } from '../elements/index';
import type { Design, Id } from '../fields/types';
import { distancesFromSources } from '../kinematics/index';
import { coupledMembers } from '../edits/frames';

/** A speed of a member as the ledger tells it: rev/min, or mm/s where it slides. */
export interface MemberSpeed {
  member: Id;
  motion: 'turn' | 'slide' | 'still';
  speed: number;
}

/** What of the ledger is asked: the members' speeds, and how far each wanted output is met. */
export interface Figures {
  readonly lines: readonly MemberSpeed[];
  readonly wanted: readonly { wanted: Id; value: number | undefined; met: boolean }[];
}

/** What is still to be done for a wanted speed: turns in for one out, or travel per turn, mm. */
export interface StillNeeded {
  wanted: Id;
  name: string;
  kind: 'turns' | 'travel';
  ratio: number;
}

/** A ratio this near to one needs no stage. */
const NO_CHANGE = 1e-9;

const isSpeed = (w: WantedOutput): boolean => w.type === 'speed' || w.type === 'linear-speed';
const childOf = (design: Design, joint: string | undefined): Id | undefined =>
  joint === undefined ? undefined : design.joints.find((j) => j.id === joint.split(':')[0])?.child;

/**
 * What the train still needs behind a turning member, for each wanted speed: of those that no joint has taken yet the
 * member's speed over the wanted one, or the wanted linear speed over its turns in a second; of those of this member's
 * own joint, while they are missed, the same. Nothing where the member stands, or is to turn as it does already.
 */
export function stillNeeded(design: Design, figures: Figures, member: Id): StillNeeded[] {
  const at = figures.lines.find((s) => s.member === member);
  const n = Math.abs(at?.speed ?? 0);
  if (at?.motion !== 'turn' || n === 0) return [];
  return design.wanted.flatMap((w: WantedOutput): StillNeeded[] => {
    const value = Math.abs(w.value ?? 0);
    if (value === 0) return [];
    if (w.joint !== undefined) return childOf(design, w.joint) === member ? missing(w, figures) : [];
    if (w.type === 'speed') return turns(w, n / value);
    return w.type === 'linear-speed' ? [{ wanted: w.id, name: w.name, kind: 'travel', ratio: (value * 60) / n }] : [];
  });
}

/**
 * What is still needed somewhere before the members `behind` a place in the
 * train, for each wanted speed among them that is missed: turns in for one out.
 */
export function neededBefore(design: Design, figures: Figures, behind: ReadonlySet<Id>): StillNeeded[] {
  return design.wanted.flatMap((w: WantedOutput) => {
    const member = childOf(design, w.joint);
    return member !== undefined && behind.has(member) ? missing(w, figures) : [];
  });
}

/** By what a wanted speed that a joint has taken is still missed: its speed now over the wanted one. */
export function missing(w: WantedOutput, figures: Figures): StillNeeded[] {
  const is = figures.wanted.find((r) => r.wanted === w.id);
  const value = Math.abs(w.value ?? 0),
    now = Math.abs(is?.value ?? 0);
  return !isSpeed(w) || is?.met !== false || value === 0 || now === 0 ? [] : turns(w, now / value);
}

const turns = (w: WantedOutput, ratio: number): StillNeeded[] =>
  Math.abs(ratio - 1) < NO_CHANGE ? [] : [{ wanted: w.id, name: w.name, kind: 'turns', ratio }];

/** The member at which a wanted output is stated; undefined while no joint has taken it. */
export const memberOfWanted = (design: Design, w: WantedOutput): Id | undefined => childOf(design, w.joint);

/** Whether the train ends at a member: nothing farther from its sources is coupled with it or carried by it. */
export function trainEnds(design: Design, member: Id): boolean {
  const away = distancesFromSources(design);
  const own = away.get(member);
  const coupled = [...coupledMembers(design).values()].filter((ends) => ends.includes(member));
  const carried = design.joints.filter((j) => j.parent === member).map((j) => j.child);
  // Without a source nothing says what lies before: the end has one coupling at most.
  if (own === undefined) return coupled.length <= 1 && !carried.length;
  return ![...coupled.flat(), ...carried].some((m) => (away.get(m) ?? 0) > own);
}

/** A source with the speed that would meet a wanted output. rev/min or mm/s */
export interface SourceSpeed {
  source: Id;
  speed: number;
}

/**
 * The speed that the source must have for a missed speed to be met exactly: one source
 * moves the train, so its speeds are proportional to it. Undefined where the speed is met,
 * nothing moves, several sources move the train, or the source finds its speed by itself.
 */
export function inputSpeedFor(design: Design, w: WantedOutput, figures: Figures): SourceSpeed | undefined {
  const [needed] = missing(w, figures);
  const [source, ...others] = design.sources as DrivingSource[];
  if (!needed || !source || others.length || source.type === 'torque' || source.type === 'torque-line') return undefined;
  const speed = num(source.speed);
  return speed === 0 ? undefined : { source: source.id, speed: Number((speed / needed.ratio).toPrecision(12)) };
}

/** The design with a source at another nominal speed. */
export const withSourceSpeed = (design: Design, { source, speed }: SourceSpeed): Design => ({
  ...design,
  sources: design.sources.map((s) => (s.id === source ? { ...s, speed } : s)),
});
