import { choiceField, wholeField } from '../../fields/fields';
import { FRAME, type Id } from '../../fields/types';
import { type Vec3, toLocalPoint, vadd, vscale } from '../../math/index';
import { tidy } from '../../edits/frames';
import { assembles, choicesNear, mostPlanets } from '../planetary';
import { StageBuilder, placeOn } from './builder';
import type { StageKind, StageProblem } from './protocol';
import type { Values } from './values';
import { MODULE, WIDTH, RING_FILLET, ringTipCut, size, teeth } from './sizes';

const ROLES = ['sun', 'ring', 'carrier'] as const;
type Role = (typeof ROLES)[number];
interface Roles {
  held: Role;
  input: Role;
  output: Role;
}
/**
 * The plate that carries the planets' pins, mm: in the gap that is left between stages, so that none becomes longer by
 * it. Pins and its bore are parts of the pitch diameters of planet and sun.
 */
const PLATE = { gap: 1, thickness: 4, proud: 0.5, pin: 0.3, bore: 0.7 } as const;
/** Teeth that a ring may have. */
const MOST_TEETH = 2000;

const COUNTS = ['sun', 'planet', 'ring'] as const;
/**
 * The count that follows from the two that were stated last: ring = sun + 2·planet. A
 * planet that would not be whole or there at all is rounded, and `problem` says so.
 */
function thirdCount(v: Values, stated: readonly string[]): Values {
  const latest = stated.filter((k) => COUNTS.some((c) => c === k));
  const [sun, planet, ring] = COUNTS.map((k) => size(v, k));
  // With one stated, the ring follows a wheel, and the planets follow the ring.
  const two = latest.length > 1 ? latest.slice(0, 2) : [latest[0], latest[0] === 'ring' ? 'sun' : latest[0] === 'sun' ? 'planet' : 'sun'];
  if (!two.includes('ring')) return { ring: sun + 2 * planet };
  return two.includes('sun') ? { planet: Math.max(4, Math.floor((ring - sun) / 2)) } : { sun: Math.max(4, ring - 2 * planet) };
}

const isRole = (v: unknown): v is Role => ROLES.some((r) => r === v);
function rolesOf(v: Values): Roles {
  const held: Role = isRole(v['held']) ? v['held'] : 'ring';
  const asked: Role = isRole(v['input']) ? v['input'] : 'sun';
  const input = asked === held ? ROLES.find((r) => r !== held)! : asked;
  return { held, input, output: ROLES.find((r) => r !== held && r !== input)! };
}

/** Turns in for one out, without its sense, from Willis' relation zs·(ns − nc) = −zr·(nr − nc) with one of the three held. */
function ratioOf({ held, input }: Roles, sun: number, ring: number): number {
  const byRole: Record<Role, number> =
    held === 'ring'
      ? { sun: 1 + ring / sun, carrier: 1, ring: 0 }
      : held === 'sun'
        ? { ring: 1 + sun / ring, carrier: 1, sun: 0 }
        : { sun: ring / sun, ring: 1, carrier: 0 };
  const output = ROLES.find((r) => r !== held && r !== input)!;
  return byRole[input] / byRole[output];
}

/** Roles in the order in which they are tried: as chosen, then reducers, then what speeds up. */
const TRIED: readonly Pick<Roles, 'held' | 'input'>[] = [
  { held: 'ring', input: 'sun' },
  { held: 'sun', input: 'ring' },
  { held: 'carrier', input: 'sun' },
  { held: 'ring', input: 'carrier' },
  { held: 'sun', input: 'carrier' },
  { held: 'carrier', input: 'ring' },
];
/** A ratio nearer than this is as good as any. */
const NEAR = 2e-3;

/** Counts that are tried: the least of a standard wheel without undercut, and the most. */
const SUNS = [18, 80] as const,
  PLANETS = [18, 300] as const;

/** For a sun the planets nearest to a ratio from below and from above, of those that go in and stand beside each other. */
function planetsNear(roles: Roles, sun: number, ratio: number, planets: number): number[] {
  const gives = (planet: number): number => ratioOf(roles, sun, sun + 2 * planet);
  const roomFor = (planet: number): boolean => planets < 2 || mostPlanets(sun, planet) >= planets;
  const fits = (planet: number): boolean => assembles(sun, sun + 2 * planet, planets) && roomFor(planet);
  const [least, most] = PLANETS;
  // The ratio rises or falls with the planet all along.
  const rises = gives(most) > gives(least);
  let lo = least,
    hi = most + 1;
  while (lo < hi) {
    const middle = (lo + hi) >> 1;
    if (gives(middle) < ratio === rises) lo = middle + 1;
    else hi = middle;
  }
  let [below, above] = [lo - 1, lo];
  while (below >= least && !fits(below)) below--;
  // Where one has no room, no larger one has.
  while (above <= most && roomFor(above) && !fits(above)) above++;
  return [below, above].filter((n) => n >= least && n <= most && roomFor(n));
}

/**
 * Counts of sun and planet, and who is held and driven, nearest to a
 * ratio: with the roles as they are where these reach it, else with any.
 */
function bestSet(ratio: number, v: Values): Values {
  const planets = size(v, 'planets', 3);
  const { held, input } = rolesOf(v);
  for (const roles of [[{ held, input }], TRIED]) {
    let best: Values | undefined,
      off = Infinity;
    for (const role of roles) {
      const full = rolesOf(role);
      for (let sun = SUNS[0]; sun <= SUNS[1]; sun++) {
        for (const planet of planetsNear(full, sun, ratio, planets)) {
          const ring = sun + 2 * planet;
          // Of sets that are equally near the smaller one.
          const d = Math.abs(ratioOf(full, sun, ring) / ratio - 1) + 1e-7 * ring;
          if (d < off) [best, off] = [{ sun, planet, ring, ...role }, d];
        }
      }
    }
    if (best && (off < NEAR || roles === TRIED)) return best;
  }
  return {};
}

export const planetary: StageKind = {
  kind: 'planetary',
  label: 'Planetary set',
  does: 'turn to turn on one axis',
  ratio: 'turns',
  fields: [
    teeth('sun', 'Teeth of the sun', 24),
    teeth('planet', 'Teeth of a planet', 30),
    teeth('ring', 'Teeth of the ring', 84, 12, MOST_TEETH),
    wholeField('planets', 'Planets', { initial: 3, min: 1, max: 8 }),
    choiceField('held', 'Held', ROLES, { initial: 'ring' }),
    choiceField('input', 'Driven by', ROLES, { initial: 'sun', help: 'The shaft at which the stage begins; the third one goes out.' }),
    MODULE,
    WIDTH,
  ],
  forRatio: bestSet,
  gives: (v) => ratioOf(rolesOf(v), size(v, 'sun'), size(v, 'ring')),
  bounds: 'three planets beside each other give 1.08 to about 14, whichever of sun, ring and carrier is held; more planets less',
  build(b: StageBuilder): void {
    const f = b.frameOf(b.from);
    const m = b.n('module'),
      w = b.n('width'),
      zs = b.n('sun'),
      zp = b.n('planet'),
      zr = b.n('ring'),
      roles = rolesOf(b.values);
    const z = b.next(b.from, w);
    const o = vadd(f.o, vscale(f.z, z));
    const base = b.carrier;
    const local = (member: Id): Vec3 => (member === b.from ? [0, 0, z] : tidy(toLocalPoint(b.frameOf(member), o)));
    const onFrame = (member: Id): Record<string, unknown> =>
      member === FRAME
        ? { at: tidy(o), axis: tidy(f.z), up: tidy(f.x) }
        : { at: local(member), ...(member === b.from ? {} : placeOn(b.frameOf(member), f)) };
    /**
     * The member that plays a role: what carries the stage where it is
     * held, the one it begins at where it is driven, else a new one.
     */
    const on = (role: Role): Id => {
      if (roles.held === role) return base;
      if (roles.input === role) return b.from;
      if (role !== 'carrier') return b.shaft(role === 'sun' ? 'Sun shaft' : 'Ring shaft', o, f.z, f.x, base);
      const made = b.member('Planet carrier', 'carrier', o, f.z, f.x);
      b.joint('revolute', base, made);
      return made;
    };
    const carrier = on('carrier'),
      sunOn = on('sun'),
      ringOn = on('ring');
    const s = b.element('gear', sunOn, 'Sun', { teeth: zs, module: b.exact('module'), width: w, ...onFrame(sunOn) });
    const r = b.element('gear', ringOn, 'Ring', {
      teeth: zr,
      module: b.exact('module'),
      width: w,
      internal: true,
      rim: b.neat(m * (zr + 8)),
      fillet: RING_FILLET,
      ...ringTipCut(zp, zr, m),
      ...onFrame(ringOn),
    });
    const onCarrier = onFrame(carrier);
    const onCarrierAt = (x: Vec3): Vec3 => tidy(carrier === FRAME ? x : toLocalPoint(b.frameOf(carrier), x));
    const pinDiameter = b.neat(PLATE.pin * m * zp);
    const behind = vadd(o, vscale(f.z, w / 2 + PLATE.gap + PLATE.thickness / 2));
    b.element('rod', carrier, 'Carrier plate', {
      diameter: b.neat(m * (zs + zp) + 2 * pinDiameter),
      bore: b.neat(m * zs * PLATE.bore),
      length: b.neat(PLATE.thickness),
      ...onCarrier,
      at: onCarrierAt(behind),
    });
    for (let k = 0; k < b.n('planets'); k++) {
      const a = (2 * Math.PI * k) / b.n('planets');
      const p = vadd(o, vadd(vscale(f.x, ((m * (zs + zp)) / 2) * Math.cos(a)), vscale(f.y, ((m * (zs + zp)) / 2) * Math.sin(a))));
      const pin = b.shaft('Planet', p, f.z, f.x, carrier);
      const middle = vadd(p, vscale(f.z, (PLATE.gap + PLATE.thickness - PLATE.proud) / 2));
      b.element('rod', carrier, 'Planet pin', {
        diameter: pinDiameter,
        length: w + PLATE.gap + PLATE.thickness + PLATE.proud,
        ...onCarrier,
        at: onCarrierAt(middle),
      });
      const g = b.element('gear', pin, 'Planet wheel', { teeth: zp, module: b.exact('module'), width: w, bore: pinDiameter });
      b.couple('gear-pair', 'Sun mesh', { a: s, b: g });
      b.couple('gear-pair', 'Ring mesh', { a: g, b: r });
    }
    b.output = { sun: sunOn, ring: ringOn, carrier }[roles.output];
  },
  // Of sun, planet and ring two are stated, the third follows: the one that was stated
  // longest ago. What is held cannot drive: where one is chosen, the other gives way.
  follow(v: Values, chosen: string, stated: readonly string[]): Values {
    if (COUNTS.some((k) => k === chosen)) return { ...v, ...thirdCount(v, [chosen, ...stated.filter((k) => k !== chosen)]) };
    if (v['held'] !== v['input']) return v;
    return chosen === 'input' ? { ...v, held: v['input'] === 'ring' ? 'sun' : 'ring' } : { ...v, input: v['held'] === 'sun' ? 'ring' : 'sun' };
  },
  problem(values: Values): StageProblem | undefined {
    const sun = size(values, 'sun'),
      planet = size(values, 'planet'),
      n = size(values, 'planets'),
      ring = size(values, 'ring');
    if (values['held'] === values['input']) {
      const other = ROLES.filter((r) => r !== values['held']).map((input) => ({ input }));
      return { field: 'input', message: 'what is held cannot drive: choose another', choices: other };
    }
    if (ring > MOST_TEETH) return { field: 'planet', message: `the ring would have ${ring} teeth: at most ${MOST_TEETH}` };
    const near = choicesNear(sun, ring, n).map((c) => ({ sun: c.sun, planet: c.planet, ring: c.ring }));
    if (ring !== sun + 2 * planet) {
      const even = (ring - sun) % 2 === 0;
      const message = even
        ? `a planet between a sun of ${sun} and a ring of ${ring} has ${(ring - sun) / 2} teeth`
        : `no whole planet stands between a sun of ${sun} and a ring of ${ring} teeth: their difference must be even`;
      return { field: 'ring', message, choices: near };
    }
    if ((sun + ring) % n) {
      return {
        field: 'sun',
        message: `${n} even planets need (sun + ring) divisible by ${n}; ${sun} + ${ring} = ${sun + ring} is not`,
        choices: near,
      };
    }
    if (n > 1 && mostPlanets(sun, planet) < n) {
      return {
        field: 'planets',
        message: `at most ${mostPlanets(sun, planet)} planets of ${planet} teeth stand beside each other round ${sun}`,
        choices: near,
      };
    }
    return undefined;
  },
};
