import { cosBaseHelix } from '../teeth/index';
import { type Conditions, type ToothRating, changesOf, rootLimit } from './cylindrical';
import { crossedContact } from './hertz';
import { flankLife, rootLife } from './life';
import type { MeshLoad, RatedGear } from './mesh';
import type { Figure } from './protocol';
import { type Given, type Results, timesBorne } from './rater';
import { ratedGear } from './teeth';
import { toothForm } from './tooth-form';
import { pairOf, ratePair } from './tooth-lines';

/** Two crossed helical gears, which touch in a point. */
export type CrossedMesh = readonly [RatedGear, RatedGear];
/** Flank and root of both. */
export interface CrossedRating {
  readonly flank: readonly [ToothRating, ToothRating];
  readonly root: readonly [ToothRating, ToothRating];
  readonly assumptions: readonly string[];
}

/** Radius of a flank square to its straight lines, at the pitch point, mm: r·sin αt/cos βb. */
export const flankRadius = ({ gear }: RatedGear): number => (gear.pitchRadius * Math.sin(gear.alphaT)) / cosBaseHelix(gear);
/**
 * The angle between the straight lines of both flanks, rad: each leaves the common tooth line by atan(sin αn·tan β), to the
 * side of its hand. 0 where the axes are parallel.
 */
export function linesApart(mesh: CrossedMesh): number {
  const [a, b] = mesh.map(({ gear: { alpha, beta } }) => Math.atan(Math.sin(alpha) * Math.tan(beta)));
  return Math.abs(a + b);
}
/** Force square to the flanks, N, for a tangential force at one of them, without friction. */
export const normalForce = (tangential: number, { gear }: RatedGear): number => tangential / (Math.cos(gear.alpha) * Math.cos(gear.beta));

/** A point load spreads in a tooth to both sides as far as it is high: our own assumption, on the safe side of a whole face. */
const SPREAD = 2;

/**
 * Rates crossed helical gears: flanks by the pressure of two crossed cylinders (Hertz), roots by the form of their virtual
 * teeth with the load at the tip, each against the limits of ISO 6336. `load.force`: tangential force at the first, N.
 * Throws RangeError where flanks touch along a line, or a tooth has no root section.
 */
export function rateCrossed(mesh: CrossedMesh, load: MeshLoad, { application, hours }: Conditions): CrossedRating {
  const [first, second] = mesh;
  const force = application * normalForce(load.force, first);
  const [e1, e2] = mesh.map((g) => g.material.modulus);
  const modulus = (2 * e1 * e2) / (e1 + e2);
  const [rho1, rho2] = mesh.map(flankRadius);
  const angle = linesApart(mesh);
  const touch = crossedContact(force, rho1, rho2, angle, modulus);
  if (touch.long > Math.min(...mesh.map((g) => g.width)) / 2) {
    throw new RangeError('its axes cross at so small an angle that flanks touch over their whole width');
  }
  const u = second.gear.teeth / first.gear.teeth;
  const sliding = Math.abs(
    (Math.PI * 2 * first.gear.pitchRadius * load.speed * Math.sin(first.gear.beta + second.gear.beta)) / 60 / Math.cos(second.gear.beta),
  );
  const common: readonly Figure[] = [
    { symbol: 'Ft', label: 'Tangential force at the first', value: load.force, unit: 'N' },
    { symbol: 'KA', label: 'Application factor', value: application },
    { symbol: 'Fn', label: 'Force square to the flanks', value: force, unit: 'N', formula: 'Fn = KA·Ft/(cos αn·cos β)' },
    { symbol: 'vs', label: 'Sliding speed', value: sliding, unit: 'mm/s', formula: 'vs = v1·sin Σ/cos β2' },
  ];
  const changesAt = (k: 0 | 1): number => changesOf(k ? load.speed / u : load.speed, hours, load.contacts?.[k]);
  const flank = (k: 0 | 1): ToothRating => {
    const { material } = mesh[k];
    const changes = changesAt(k);
    const life = flankLife(material.life, changes);
    const endurance = material.contactLimit;
    return {
      safety: timesBorne(endurance * life, touch.pressure),
      stress: touch.pressure,
      permissible: endurance * life,
      endurance,
      changes,
      figures: [
        ...common,
        { symbol: 'ρ1', label: 'Radius of the first flank', value: rho1, unit: 'mm', formula: 'ρ = r·sin αt/cos βb' },
        { symbol: 'ρ2', label: 'Radius of the second flank', value: rho2, unit: 'mm' },
        {
          symbol: 'φ',
          label: 'Angle between their straight lines',
          value: (angle * 180) / Math.PI,
          unit: 'deg',
          formula: 'φ = Σ atan(sin αn·tan β)',
        },
        { symbol: 'a', label: 'Half length of the ellipse', value: touch.long, unit: 'mm' },
        { symbol: 'b', label: 'Half width of the ellipse', value: touch.short, unit: 'mm' },
        { symbol: 'pH', label: 'Greatest pressure', value: touch.pressure, unit: 'MPa', formula: 'pH = 3·Fn/(2π·a·b)' },
        { symbol: 'σHlim', label: 'Endurance limit', value: endurance, unit: 'MPa' },
      ],
      ofLife: [
        { symbol: 'NL', label: 'Load changes', value: changes },
        { symbol: 'ZNT', label: 'Life factor', value: life },
        { symbol: 'σHG', label: 'Permissible contact stress', value: endurance * life, unit: 'MPa', formula: 'σHG = σHlim·ZNT' },
      ],
    };
  };
  const root = (k: 0 | 1): ToothRating => {
    const own = mesh[k];
    const { gear, material } = own;
    const form = toothForm(gear, cosBaseHelix(gear) ** 2);
    const width = Math.min(first.width, second.width, SPREAD * Math.abs(gear.tipRadius - gear.rootRadius));
    const bending = force * Math.cos(gear.alpha);
    const stress = (bending / (width * gear.module)) * form.form * form.stress;
    const changes = changesAt(k);
    const life = rootLife(material.life, changes);
    const bears = rootLimit(own, form, gear.module, load.reversed?.[k] === true);
    const { endurance } = bears;
    return {
      safety: timesBorne(endurance * life, stress),
      stress,
      permissible: endurance * life,
      endurance,
      changes,
      figures: [
        ...common,
        { symbol: 'b', label: 'Width that bears', value: width, unit: 'mm', formula: 'b = min(b1, b2, 2·h)' },
        { symbol: 'YF', label: 'Form factor', value: form.form },
        { symbol: 'YS', label: 'Stress correction factor', value: form.stress },
        { symbol: 'σF', label: 'Root stress', value: stress, unit: 'MPa', formula: 'σF = Fn·cos αn/(b·mn)·YF·YS' },
        ...bears.figures,
      ],
      ofLife: [
        { symbol: 'NL', label: 'Load changes', value: changes },
        { symbol: 'YNT', label: 'Life factor', value: life },
        { symbol: 'σFG', label: 'Permissible root stress', value: endurance * life, unit: 'MPa', formula: 'σFG = σFlim·2·YNT·YδrelT·YRrelT·YX' },
      ],
    };
  };
  return {
    flank: [flank(0), flank(1)],
    root: [root(0), root(1)],
    assumptions: [
      'one pair of teeth carries all: at the pitch point for the pressure, at the tip for bending',
      'the load spreads in a tooth to both sides as far as it is high',
      'neither wear by sliding nor scuffing is rated; no dynamic load beside KA',
    ],
  };
}

/** Crossed helical gears; runs by Miner's rule. */
export function rateCrossedGears(given: Given, results: Results): void {
  const { applicationFactor: application, viscosity } = given.wishes;
  for (const { coupling: c } of given.compiled.couplings) {
    if (c.type !== 'crossed-gears') continue;
    const name = c.name ?? c.id;
    const no = (why: string): void => results.unrated(c.id, name, why);
    const pair = pairOf(given.compiled, c, ratedGear, (r) => r.gear.teeth, no);
    if (!pair) continue;
    const mesh: CrossedMesh = [pair[0].rated, pair[1].rated];
    ratePair(given, results, { coupling: c.id, name, assumptions: [], method: METHOD, contact: 3 }, pair, () => ({
      // Both at the first: what goes over is the force square to the flanks.
      force: (load, { rated }) => normalForce((load * 1e3) / rated.gear.pitchRadius, rated) / normalForce(1, mesh[0]),
      rate: (load, hours) => rateCrossed(mesh, load, { application, hours, viscosity }),
    }));
  }
}
const METHOD = { flank: 'Pressure in a point by Hertz, limits by ISO 6336-5', root: 'Form factors of ISO 6336-3, load at the tip' } as const;
