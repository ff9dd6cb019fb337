import type { CamContact, OneWayClutch, Rolling } from '../couplings/index';
import {
  type Cam,
  type Follower,
  type Pawl,
  type RatchetWheel,
  type Track,
  type Wheel,
  camOf,
  num,
  ratchetDiameter,
  ratchetRoot,
} from '../elements/index';
import type { Instant } from './instants';
import { linePressure, toothBending } from './hertz';
import type { Figure, RatingLine } from './protocol';
import { type Given, type Results, applicationFigure, knownIn, timesBorne } from './rater';

/** Cams and wheels by Hertz; grip of wheels; teeth of ratchet wheels in bending; one-way clutches by their rated torque. */
export function rateContacts(given: Given, results: Results): void {
  for (const { coupling: c } of given.compiled.couplings) {
    if (c.type === 'one-way-clutch') rateClutch(given, results, c as OneWayClutch);
    const element = (id: string | undefined): unknown => given.compiled.design.elements.find((e) => e.id === id);
    const [a, b] = [element(c.a), element(c.b)];
    if (!a || !b) continue;
    if (c.type === 'cam-contact') rateCam(given, results, c as CamContact, a as Cam, b as Follower);
    if (c.type === 'rolling') rateRolling(given, results, c as Rolling, a as Wheel, b as Wheel | Track);
    if (c.type === 'ratchet') rateRatchet(given, results, c, a as RatchetWheel, b as Pawl);
  }
}

type Named = Pick<CamContact, 'id' | 'name'>;
/** Goes over the cases with the greatest of something, N or N·m. */
function eachCase(
  { cases }: Given,
  results: Results,
  { id, name = id }: Named,
  of: (i: Instant) => number | undefined,
  rate: (load: number, base: Pick<RatingLine, 'item' | 'name' | 'case'>, run: readonly string[]) => void,
): void {
  for (const [c, all] of knownIn(
    cases,
    (why) => results.unrated(id, name, why),
    (i) => ({ load: Math.abs(of(i) ?? NaN) }),
  )) {
    rate(Math.max(...all.map((x) => x.load)), { item: id, name, case: c.name }, c.run ? ['the greatest of the run'] : []);
  }
}

function rateCam(given: Given, results: Results, c: CamContact, cam: Cam, follower: Follower): void {
  const no = (why: string): void => results.unrated(c.id, c.name ?? c.id, why);
  const data = camOf(cam);
  if (typeof data === 'string') return no(data);
  if (data.shape.form === 'knife') return no('the pressure under a knife edge has no bound');
  if (c.contactLimit === undefined) return no('the permissible contact pressure of its cam is not stated');
  const touch: Touch = {
    rho1: data.profile.curvature,
    rho2: data.shape.form === 'roller' ? data.shape.roller : Infinity,
    width: Math.min(num(cam.width), num(follower.width) || Infinity),
    limit: c.contactLimit,
  };
  eachCase(
    given,
    results,
    c,
    (i) => i.coupling(c.id)?.tangential,
    (force, base, run) => {
      const line = { ...base, what: 'cam, pressure' } as const;
      const radii = { rho1: 'Least radius of the cam', rho2: 'Radius of the roller' };
      pressureLine(
        given,
        results,
        `${c.id} cam`,
        line,
        { symbol: 'F', label: 'Greatest force between them', value: force, unit: 'N' },
        touch,
        radii,
        ['both of steel', 'the greatest force at the sharpest place of the cam, wherever each is', ...run],
      );
    },
  );
}

/** Two steel bodies that touch along a line, with the radii mm (infinite: flat), and what they bear, MPa. */
interface Touch {
  readonly rho1: number;
  readonly rho2: number;
  readonly width: number;
  readonly limit: number;
}
/** The pressure of a contact along a line against what is stated as permissible. */
function pressureLine(
  { wishes }: Given,
  results: Results,
  key: string,
  line: Pick<RatingLine, 'item' | 'name' | 'case' | 'what'>,
  force: Figure,
  { rho1, rho2, width, limit }: Touch,
  named: { readonly rho1: string; readonly rho2: string },
  assumptions: readonly string[],
): void {
  const pressure = linePressure(wishes.applicationFactor * force.value, width, rho1, rho2);
  const value = timesBorne(limit, pressure);
  results.line(key, {
    ...line,
    value,
    wanted: 1,
    // Pressure goes with the root of the force.
    reserve: value ** 2,
    method: 'Pressure along a line by Hertz',
    figures: [
      applicationFigure(wishes),
      force,
      { symbol: 'b', label: 'Width in contact', value: width, unit: 'mm' },
      { symbol: 'ρ1', label: named.rho1, value: rho1, unit: 'mm' },
      ...(Number.isFinite(rho2) ? [{ symbol: 'ρ2', label: named.rho2, value: rho2, unit: 'mm' }] : []),
      {
        symbol: 'pH',
        label: 'Greatest pressure',
        value: pressure,
        unit: 'MPa',
        formula: `pH = √(KA·${force.symbol}·E/(2π·(1 − ν²)·b)·(1/ρ1 + 1/ρ2))`,
      },
      { symbol: 'pzul', label: 'Permissible pressure', value: limit, unit: 'MPa' },
    ],
    assumptions,
  });
}

const WHEEL_RADII = { rho1: 'Radius of the wheel', rho2: 'Radius of the other' };
const AS_STATED = 'the wheel load as stated, in all load cases';
/** A wheel on a track or on another wheel: the pressure of their line of contact, and whether it slips. */
function rateRolling(given: Given, results: Results, c: Rolling, a: Wheel, b: Wheel | Track): void {
  const no = (why: string): void => results.unrated(c.id, c.name ?? c.id, why);
  if (c.wheelLoad === undefined) return no('the wheel load is not stated');
  const load = c.wheelLoad;
  const { applicationFactor: KA } = given.wishes;
  const touch = {
    rho1: num(a.diameter) / 2,
    rho2: b.type === 'wheel' ? num((b as Wheel).diameter) / 2 : Infinity,
    width: Math.min(num(a.width), num(b.width)),
  };
  const limit = c.contactLimit;
  if (limit === undefined) no('its permissible contact pressure is not stated');
  if (c.adhesion === undefined) no('its coefficient of adhesion is not stated: no slip');
  const mu = c.adhesion;
  const pressed: Figure = { symbol: 'FN', label: 'Wheel load', value: load, unit: 'N' };
  eachCase(
    given,
    results,
    c,
    (i) => i.coupling(c.id)?.tangential,
    (force, base, run) => {
      if (limit !== undefined) {
        pressureLine(given, results, `${c.id} pressure`, { ...base, what: 'wheel, pressure' }, pressed, { ...touch, limit }, WHEEL_RADII, [
          'both of steel, the wheel not crowned, its whole width on the other',
          AS_STATED,
        ]);
      }
      if (mu !== undefined) {
        const value = timesBorne(mu * load, KA * force);
        results.line(`${c.id} grip`, {
          ...base,
          what: 'wheel, slip',
          value,
          wanted: 1,
          reserve: value,
          method: 'Adhesion against the tangential force',
          figures: [
            applicationFigure(given.wishes),
            pressed,
            { symbol: 'μ', label: 'Coefficient of adhesion', value: mu },
            { symbol: 'F', label: 'Greatest tangential force', value: force, unit: 'N' },
            { symbol: 'S', label: 'Safety against slip', value, formula: 'S = μ·FN/(KA·F)' },
          ],
          assumptions: [AS_STATED, ...run],
        });
      }
    },
  );
}

/** What a one-way clutch takes along. */
function rateClutch(given: Given, results: Results, c: OneWayClutch): void {
  const limit = c.clutchTorque;
  if (limit === undefined) return results.unrated(c.id, c.name ?? c.id, 'the rated torque of the clutch is not stated');
  const { applicationFactor: KA } = given.wishes;
  eachCase(
    given,
    results,
    c,
    (i) => i.coupling(c.id)?.loads[0],
    (torque, base, run) => {
      const value = timesBorne(limit, KA * torque);
      results.line(`${c.id} clutch`, {
        ...base,
        what: 'one-way clutch',
        value,
        wanted: 1,
        reserve: value,
        method: 'Rated torque against what it takes along',
        figures: [
          applicationFigure(given.wishes),
          { symbol: 'T', label: 'Greatest torque that it takes along', value: torque, unit: 'N·m' },
          { symbol: 'Tr', label: 'Rated torque', value: limit, unit: 'N·m' },
        ],
        assumptions: ['wear while it runs ahead, and the shock as it takes hold, are not rated', ...run],
      });
    },
  );
}

function rateRatchet(given: Given, results: Results, c: Named, wheel: RatchetWheel, pawl: Pawl): void {
  if (wheel.bendingLimit === undefined) {
    return results.unrated(c.id, c.name ?? c.id, 'the permissible bending stress of its ratchet teeth is not stated');
  }
  const limit = wheel.bendingLimit;
  const [R, r] = [ratchetDiameter(wheel) / 2, ratchetRoot(wheel)];
  const foot = (2 * Math.PI * r) / num(wheel.teeth);
  const width = Math.min(num(wheel.width), num(pawl.width));
  const { applicationFactor: KA } = given.wishes;
  eachCase(
    given,
    results,
    c,
    (i) => i.coupling(c.id)?.loads[0],
    (torque, base, run) => {
      const force = (1e3 * torque) / R;
      const stress = toothBending(KA * force, R - r, foot, width);
      const value = timesBorne(limit, stress);
      results.line(`${c.id} ratchet`, {
        ...base,
        what: 'ratchet tooth, bending',
        value,
        wanted: 1,
        reserve: value,
        method: 'Bending of the tooth as a short beam',
        figures: [
          applicationFigure(given.wishes),
          { symbol: 'T', label: 'Greatest torque that it holds', value: torque, unit: 'N·m' },
          { symbol: 'F', label: 'Force at the tip', value: force, unit: 'N', formula: 'F = 2·T/da' },
          { symbol: 'h', label: 'Height of the tooth', value: R - r, unit: 'mm' },
          { symbol: 's', label: 'Thickness of its foot', value: foot, unit: 'mm', formula: 's = π·df/z' },
          { symbol: 'b', label: 'Width in contact', value: width, unit: 'mm' },
          { symbol: 'σ', label: 'Bending stress', value: stress, unit: 'MPa', formula: 'σ = 6·KA·F·h/(b·s²)' },
          { symbol: 'σzul', label: 'Permissible bending stress', value: limit, unit: 'MPa' },
        ],
        assumptions: [
          'the pawl bears at the tip, all along its width',
          'the shock of the pawl as it falls in, and the pawl and its pin, are not rated',
          ...run,
        ],
      });
    },
  );
}
