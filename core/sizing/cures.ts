import { Design, Element, FRAME, Finding, Id, Joint } from '../fields/types';
import { type BevelGear, type Gear, elementKind, num } from '../elements/index';
import { statedBy } from '../fields/fields';
import { type Compiled, compile, setPhases } from '../kinematics/index';
import { freshId, idsOf } from '../edits/items';
import { PlanetChoice, PlanetarySet, choicesNear, planetarySets } from './planetary';
import { withFormulas } from '../edits/quantities';
import { settle } from '../edits/settle';
import type { ActingLoad } from '../loads/index';
import { memberFrame, tidy } from '../edits/frames';
import { type Ratio, Vec3, dot, localFrame, norm, parseRatio, toLocalPoint, toLocalVector, toNumber, toText, vscale, within } from '../math/index';
import type { Way } from '../findings/index';

/** A fix of a finding that a person may take: a name for it and the design after it. */
export interface Cure {
  label: string;
  /** The design with the fix made. */
  apply(design: Design): Design;
}

/** Axis of a joint in the world. */
const turningAxis = (d: Design, j: Joint): Vec3 => within(memberFrame(d, j.child), localFrame(j)).z;

const named = (d: Design, id: unknown): string => {
  const x = [...d.elements, ...d.members, ...d.joints, ...d.couplings].find((y) => y.id === id);
  return x?.name ?? String(id);
};
const change = (d: Design, id: Id, more: object): Design => ({
  ...d,
  elements: d.elements.map((e) => (e.id === id ? { ...e, ...more } : e)),
});

/**
 * Elements that must agree with each other: those that mesh or run in one band, and what meshes with these in turn. A planetary
 * set is one such circle.
 */
function inStep(d: Design, start: readonly (Id | undefined)[]): Id[] {
  const out = new Set(start.filter((id) => id !== undefined));
  for (let grew = true; grew;) {
    grew = false;
    for (const c of d.couplings) {
      const ends = [c.a, c.b, ...(c.wheels ?? [])].filter((id) => id !== undefined);
      if (!ends.some((id) => out.has(id))) continue;
      for (const id of ends) if (!out.has(id)) grew = !!out.add(id);
    }
  }
  return [...out];
}

/** The value of one side's field for the other side as well and for all that must agree with them, both ways. */
function alike(d: Design, f: Finding, key: string, unit: string): Cure[] {
  const c = d.couplings.find((x) => x.id === f.ids[0]);
  const ids = inStep(d, [c?.a, c?.b, ...(c?.wheels ?? [])]);
  const parts = ids
    .map((id) => d.elements.find((e) => e.id === id))
    .filter((e): e is Element => !!e)
    .map((e) => ({ ...e, value: statedBy(e)[key] ?? elementKind(e.type)?.fields.find((x) => x.key === key)?.initial }))
    .filter((e) => e.value !== undefined);
  return parts
    .filter((e, i) => parts.findIndex((x) => x.value === e.value) === i)
    .map((e) => ({
      label: `Give ${parts.length > 2 ? 'all' : 'both'} ${unit ? `${num(String(e.value))} ${unit}` : String(e.value)}, as “${e.name}” has`,
      apply: (x) => settle(parts.reduce((y, p) => change(y, p.id, { [key]: e.value }), x)).design,
    }));
}

const withJoint = (d: Design, type: string, child: Id): Design => ({
  ...d,
  joints: [
    ...d.joints,
    {
      id: freshId(idsOf(d), 'joint'),
      name: `${named(d, child)} ${type === 'prismatic' ? 'guide' : type === 'fixed' ? 'seat' : 'bearing'}`,
      type,
      parent: FRAME,
      child,
    },
  ],
});

/** A planetary set with other teeth, its ring's rim kept outside them, at its working distances. */
function withTeeth(d: Design, set: PlanetarySet, t: PlanetChoice): Design {
  const ring = elementIn(d, set.ring);
  let y = change(change(d, set.sun, { teeth: t.sun }), set.ring, {
    teeth: t.ring,
    rim: Math.max(num(ring?.rim), Math.round(num(ring?.module) * (t.ring + 8))),
  });
  for (const p of set.planets) y = change(y, p, { teeth: t.planet });
  return settle(y).design;
}

/** A design for whose findings fixes are looked for: compiled at most once, and only where one of them needs it. */
class Situation {
  private made?: Compiled;
  private found?: PlanetarySet[];

  constructor(
    readonly design: Design,
    compiled?: Compiled,
  ) {
    this.made = compiled;
  }

  get compiled(): Compiled {
    return (this.made ??= compile(this.design));
  }
  get sets(): PlanetarySet[] {
    return (this.found ??= planetarySets(this.compiled));
  }
}

/** For a mesh of a planetary set whose counts do not fit between sun and ring: the ring that would, sun + 2·planet. */
function ringThatFits({ design: d, sets }: Situation, coupling: Id): Cure[] {
  const set = sets.find((s) => s.couplings.includes(coupling));
  const sun = elementIn(d, set?.sun),
    ring = elementIn(d, set?.ring),
    planet = elementIn(d, set?.planets[0]);
  if (!set || !sun || !ring || !planet) return [];
  const teeth = num(sun.teeth) + 2 * num(planet.teeth);
  if (teeth === num(ring.teeth)) return [];
  return [
    {
      label: `Give “${ring.name}” ${teeth} teeth, and all planets ${num(planet.teeth)}`,
      apply: (x) => withTeeth(x, set, { sun: num(sun.teeth), planet: num(planet.teeth), ring: teeth }),
    },
  ];
}

/**
 * Ways out of the findings of a design, best first; none where only the designer can know. Each is applied only when a person
 * asks. `compiled` is the design's, where it is at hand.
 */
export function curesOf(design: Design, compiled?: Compiled): (f: Finding) => Cure[] {
  const situation = new Situation(design, compiled);
  return (f) => waysOut(situation, f);
}

/** As `curesOf`, for one finding. */
export const curesFor = (design: Design, f: Finding): Cure[] => curesOf(design)(f);

/** What tells one finding from another, whatever its figures. */
const keyOf = (f: Finding): string => `${f.code} ${f.ids.join()}`;

/**
 * The fixes that have been tried: the finding is gone and no fault has come. `look` gives the findings of a design; every way is
 * looked at once, so that this is for a worker, or for one finding.
 */
export function provenCures(
  design: Design,
  f: Finding,
  look: (d: Design) => readonly Finding[],
  offer = curesOf(design),
  now = look(design),
): Cure[] {
  const had = new Set(now.filter((x) => x.severity === 'fault').map(keyOf));
  return offer(f).filter((cure) => {
    const after = look(cure.apply(design));
    const still = after.some((x) => keyOf(x) === keyOf(f));
    return !still && !after.some((x) => x.severity === 'fault' && !had.has(keyOf(x)));
  });
}

/** An element with what a wheel of teeth may state. */
type Toothed = Gear & BevelGear;
const elementIn = (d: Design, id: unknown): Toothed | undefined => d.elements.find((e) => e.id === id);
/** The two elements of the coupling that a finding names first. */
function pairIn(d: Design, f: Finding): [Toothed, Toothed] | undefined {
  const c = d.couplings.find((x) => x.id === f.ids[0]);
  const a = elementIn(d, c?.a),
    b = elementIn(d, c?.b);
  return a && b && [a, b];
}

/** The unit in which fields that two sides share are said. */
const ALIKE_UNIT: Readonly<Record<string, string>> = { module: 'mm', pressureAngle: '°', pitch: 'mm' };

/** Each fix: what it offers for a finding. */
const WAYS: Readonly<Record<Way, (situation: Situation, f: Finding) => Cure[]>> = {
  alike: ({ design: d }, f) => (f.field ? alike(d, f, f.field, ALIKE_UNIT[f.field] ?? '') : []),
  'ring-that-fits': (situation, f) => ringThatFits(situation, f.ids[0]),
  formulas: ({ design: d }) =>
    withFormulas(d).problem === undefined ? [{ label: 'Work out the formulas again', apply: (x) => withFormulas(x).design }] : [],
  'working-distance': () => [{ label: 'Set the working distance and the phase', apply: (x) => settle(x).design }],
  phase: (_situation, f) => [
    { label: 'Set this phase angle', apply: (x) => setPhases(x, new Set([f.ids[0]])).design },
    { label: 'Set all phase angles', apply: (x) => setPhases(x).design },
  ],
  helix({ design: d }, f) {
    const pair = pairIn(d, f);
    if (!pair) return [];
    const [a, b] = pair;
    const same = a.internal === true || b.internal === true;
    const hand = same ? (a.hand ?? 'right') : a.hand === 'left' ? 'right' : 'left';
    return [
      { label: `Give “${b.name}” the helix that suits “${a.name}”`, apply: (x) => settle(change(x, b.id, { helix: a.helix ?? 0, hand })).design },
    ];
  },
  'cone-angles'({ design: d, compiled }, f) {
    const pair = pairIn(d, f);
    if (!pair) return [];
    const [a, b] = pair;
    const fa = compiled.elementFrames.get(a.id),
      fb = compiled.elementFrames.get(b.id);
    if (!fa || !fb) return [];
    const sigma = Math.acos(Math.max(-1, Math.min(1, dot(fa.z, fb.z))));
    const one = (Math.atan2(Math.sin(sigma), num(b.teeth) / num(a.teeth) + Math.cos(sigma)) * 180) / Math.PI;
    const other = (sigma * 180) / Math.PI - one;
    const cone = (x: number): number => Number(x.toFixed(10));
    return [
      {
        label: `Set the cone angles to ${cone(one).toFixed(3)}° and ${other.toFixed(3)}°`,
        apply: (x) => change(change(x, a.id, { coneAngle: cone(one) }), b.id, { coneAngle: cone(other) }),
      },
    ];
  },
  planets({ design: d, sets }, f) {
    const set = sets.find((s) => s.couplings.some((c) => f.ids.includes(c)));
    const sun = elementIn(d, set?.sun),
      ring = elementIn(d, set?.ring);
    if (!set || !sun || !ring) return [];
    return choicesNear(num(sun.teeth), num(ring.teeth), set.planets.length).map((c) => ({
      label: `Sun ${c.sun}, planets ${c.planet}, ring ${c.ring}`,
      apply: (x) => withTeeth(x, set, c),
    }));
  },
  'into-line'({ design: d, compiled }, f) {
    const c = d.couplings.find((x) => x.id === f.ids[0]);
    const first = compiled.elementFrames.get(c?.wheels?.[0] ?? ''),
      e = elementIn(d, f.ids[1]),
      own = e && compiled.elementFrames.get(e.id);
    if (!first || !e || !own) return [];
    const off = toLocalPoint(first, own.o)[2];
    const sign = Math.sign(dot(first.z, own.z)) || 1;
    const at = (e.at ?? [0, 0, 0]) as Vec3;
    return [
      {
        label: `Move “${e.name}” ${Number(Math.abs(off).toFixed(3))} mm along its shaft into line`,
        apply: (x) => change(x, e.id, { at: [at[0], at[1], Number((at[2] - sign * off).toFixed(9))] }),
      },
    ];
  },
  carry({ design: d }, f) {
    const id = f.ids[0];
    return [
      { label: `Let “${named(d, id)}” turn on the frame`, apply: (x) => withJoint(x, 'revolute', id) },
      { label: `Let “${named(d, id)}” slide on the frame`, apply: (x) => withJoint(x, 'prismatic', id) },
      { label: `Fasten “${named(d, id)}” to the frame`, apply: (x) => withJoint(x, 'fixed', id) },
    ];
  },
  'fasten-support'({ design: d }, f) {
    const j = d.joints.find((x) => x.child === f.ids[0]);
    if (!j) return [];
    return [
      {
        label: `Fasten “${named(d, f.ids[0])}” to ${j.parent === FRAME ? 'the frame' : `“${named(d, j.parent)}”`}`,
        apply: (x) => ({ ...x, joints: x.joints.map((y) => (y.id === j.id ? { ...y, type: 'fixed' } : y)) }),
      },
    ];
  },
  drive({ design: d }, f) {
    const j = d.joints.find((x) => x.child === f.ids[0] && x.type !== 'fixed');
    if (!j) return [];
    const speed = j.type === 'prismatic' ? 10 : 60;
    return [
      {
        label: `Drive “${named(d, f.ids[0])}” by a motor`,
        apply: (x) => ({
          ...x,
          sources: [...x.sources, { id: freshId(idsOf(x), 'source'), name: `Motor of ${named(x, f.ids[0])}`, type: 'motor', joint: j.id, speed }],
        }),
      },
    ];
  },
  'take-out-coupling': ({ design: d }, f) =>
    f.ids
      .slice(0, 4)
      .map((id) => ({ label: `Take out “${named(d, id)}”`, apply: (x) => ({ ...x, couplings: x.couplings.filter((c) => c.id !== id) }) })),
  'take-out-source': ({ design: d }, f) => [
    {
      label: `Take out “${d.sources.find((s) => s.id === f.ids[0])?.name ?? f.ids[0]}”`,
      apply: (x) => ({ ...x, sources: x.sources.filter((s) => s.id !== f.ids[0]) }),
    },
  ],
  'home-between-stops'({ design: d }, f) {
    const j = d.joints.find((x) => x.id === f.ids[0]);
    if (!j) return [];
    // Of the freedom whose home it is: lower2, upper2 and home2 of the second.
    const key = f.field ?? 'home';
    const order = key.replace('home', '');
    const stated = statedBy(j);
    const value = (name: string): Ratio | undefined => parseRatio((stated[`${name}${order}`] ?? '') as string | number);
    const home = value('home');
    const ends = [value('lower'), value('upper')].filter((v) => v !== undefined).sort((a, b) => toNumber(a) - toNumber(b));
    if (!home || !ends.length) return [];
    const nearest = ends.reduce((a, b) => (Math.abs(toNumber(b) - toNumber(home)) < Math.abs(toNumber(a) - toNumber(home)) ? b : a));
    const to = nearest.d === 1n ? toNumber(nearest) : toText(nearest);
    return [{ label: `Move home to ${to}`, apply: (x) => ({ ...x, joints: x.joints.map((y) => (y.id === j.id ? { ...y, [key]: to } : y)) }) }];
  },
  'allow-overlap'({ design: d }, f) {
    const [a, b] = f.ids;
    const own = d.members.find((m) => m.id === a) ?? d.members.find((m) => m.id === b);
    const other = own?.id === a ? b : a;
    if (!own || !other) return [];
    return [
      {
        label: `Allow ${named(d, a)} and ${named(d, b)} to overlap`,
        apply: (x) => ({
          ...x,
          members: x.members.map((m) => (m.id === own.id ? { ...m, mayOverlap: [...new Set([...(m.mayOverlap ?? []), other])] } : m)),
        }),
      },
    ];
  },
  'about-its-axis'({ design: d }, f) {
    const load: ActingLoad & { torque?: Vec3 } = d.loads.find((x) => x.id === f.ids[0])!;
    const joint = d.joints.find((j) => j.id === f.ids[2]);
    const axis = joint && turningAxis(d, joint);
    if (!load?.torque || !axis || !load.member) return [];
    const along = load.follows === true ? toLocalVector(memberFrame(d, load.member), axis) : axis;
    const torque = tidy(vscale(along, norm(load.torque)));
    return [
      {
        label: `Turn it about the axis of ${named(d, joint.id)}`,
        apply: (x) => ({ ...x, loads: x.loads.map((y) => (y.id === load.id ? { ...y, torque } : y)) }),
      },
    ];
  },
};

const waysOut = (situation: Situation, f: Finding): Cure[] => (f.cures ?? []).flatMap((way) => WAYS[way as Way](situation, f));

/** Effects of an edit: findings that were not there before, faults and cautions only. */
export const broughtAbout = (before: readonly Finding[], after: readonly Finding[]): Finding[] => {
  const had = new Set(before.map((f) => `${f.code} ${f.ids.join()}`));
  return after.filter((f) => f.severity !== 'note' && !had.has(`${f.code} ${f.ids.join()}`));
};
