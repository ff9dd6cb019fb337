import { type Pulley, num, pulleyRadius } from '../elements/index';
import type { Belt, Chain } from '../couplings/index';
import { centrifugalPull, slipReserve, toothedBelt, toothedLimit, wrapFactor } from './belt';
import { chainPower, rollerChain } from './chain';
import type { Instant } from './instants';
import type { Figure, RatingLine } from './protocol';
import { type Given, type Results, applicationFigure, knownIn, timesBorne } from './rater';

/** A static safety of chains against breaking that is common practice. */
const CHAIN_SAFETY = 7;
/** Hours for which the power of chains holds. */
const CHAIN_HOURS = 15_000;

/** What a band bears at one instant: tensions, N, and the speed of the band, m/s. */
interface Drawn {
  readonly tensions: readonly number[];
  /** Mean over the length. */
  readonly mean: number;
  /** The greatest, with the application factor on what the load adds to the mean. */
  readonly most: number;
  readonly speed: number;
}
interface Band {
  readonly id: string;
  readonly name: string;
  readonly wheels: readonly Pulley[];
  readonly wraps: readonly number[];
  readonly limits: readonly number[];
  readonly lengths: readonly number[];
}

/** Belts by strand force, slip and rated power; chains by breaking force and rated power. */
export function rateBands(given: Given, results: Results): void {
  const { design } = given.compiled;
  for (const { coupling: c, model } of given.compiled.couplings) {
    if (model.law !== 'band' || !model.band) continue;
    const wheels = (c.wheels ?? []).map((id) => design.elements.find((e) => e.id === id) as Pulley);
    const band: Band = {
      id: c.id,
      name: c.name ?? c.id,
      wheels,
      wraps: wheels.map((_, i) => Number(model.derived?.find((d) => d.key === `wrap${i}`)?.value)),
      limits: model.band.limits,
      lengths: model.band.lengths,
    };
    if (c.type === 'chain') rateChain(given, results, band, c as Chain);
    else rateBelt(given, results, band, c as Belt);
  }
}

type Said = Omit<RatingLine, 'item' | 'name' | 'case' | 'what'>;
type Take = (what: RatingLine['what'], said: Said) => void;
/** Goes over the cases; what its band bears in each, and which of its wheels carry a load. */
function eachCase(
  { cases, wishes }: Given,
  results: Results,
  b: Band,
  rate: (drawn: readonly Drawn[], loaded: readonly number[], take: Take) => void,
): void {
  const KA = wishes.applicationFactor;
  const total = b.lengths.reduce((s, x) => s + x, 0);
  const read = (i: Instant): Drawn => {
    const line = i.coupling(b.id);
    const tensions = line?.strands ?? [NaN];
    const mean = tensions.reduce((s, t, k) => s + t * b.lengths[k], 0) / total;
    const turns = Math.abs(line?.speeds[0] ?? NaN) / 60;
    return { tensions, mean, most: mean + KA * (Math.max(...tensions) - mean), speed: turns * 2e-3 * Math.PI * pulleyRadius(b.wheels[0]) };
  };
  for (const [c, drawn] of knownIn(cases, (why) => results.unrated(b.id, b.name, why), read)) {
    const run = c.run ? ['the worst instant of the run'] : [];
    const take: Take = (what, said) =>
      results.line(`${b.id} ${what}`, { item: b.id, name: b.name, case: c.name, what, ...said, assumptions: [...said.assumptions, ...run] });
    rate(drawn, loadedWheels(b, drawn), take);
  }
}
/** Part of the greatest tension by which strands differ where a wheel only guides the band. */
const GUIDES = 1e-6;
/** The wheels that drive the band or are driven by it in a case; all where nothing is. Those that only guide it limit nothing. */
function loadedWheels(b: Band, drawn: readonly Drawn[]): number[] {
  const all = b.wheels.map((_, i) => i);
  const loaded = all.filter((i) =>
    drawn.some(({ tensions: t }) => Math.abs(t[i] - t[(i + t.length - 1) % t.length]) > GUIDES * Math.max(...t.map(Math.abs))),
  );
  return loaded.length ? loaded : all;
}
/** The smallest of some wheels. */
const smallest = (b: Band, of: readonly number[]): Pulley => of.map((i) => b.wheels[i]).reduce((x, y) => (pulleyRadius(y) < pulleyRadius(x) ? y : x));
/** The instant at which something is least. */
const least = (drawn: readonly Drawn[], of: (d: Drawn) => number): Drawn => drawn.reduce((a, b) => (of(b) < of(a) ? b : a));
/** Power that a band carries: the most by which strands differ, at its speed, W. */
const powerOf = (d: Drawn): number => (Math.max(...d.tensions) - Math.min(...d.tensions)) * d.speed;

/** Force of a strand, and what of it is the band's own mass. */
const drawnFigures = (d: Drawn, mass: number | undefined): Figure[] => [
  { symbol: 'F1', label: 'Force of the tight strand', value: Math.max(...d.tensions), unit: 'N' },
  { symbol: 'F2', label: 'Force of the slack strand', value: Math.min(...d.tensions), unit: 'N' },
  { symbol: 'v', label: 'Speed of the band', value: 1e3 * d.speed, unit: 'mm/s' },
  ...(mass === undefined
    ? []
    : [{ symbol: 'FC', label: 'Pull of its mass', value: centrifugalPull(mass, d.speed), unit: 'N', formula: 'FC = q·v²' }]),
];
/** What a limit of the greatest strand force comes to: the mean stays, what the load adds grows. */
export function strandLine(
  drawn: readonly Drawn[],
  limit: number,
  wanted: number,
  mass: number | undefined,
): Pick<Said, 'value' | 'wanted' | 'reserve'> & { at: Drawn } {
  const full = (d: Drawn): number => d.most + centrifugalPull(mass ?? 0, d.speed);
  const at = least(drawn, (d) => -full(d));
  const allowed = limit / wanted;
  // What stands still in it does not grow with the load: where that alone is beyond the limit, no load at all is borne.
  const reserveOf = (d: Drawn): number => {
    const grows = d.most - d.mean;
    const rest = full(d) - grows;
    return rest > allowed ? 0 : grows > 1e-9 * allowed ? (allowed - rest) / grows : Infinity;
  };
  return {
    at,
    value: timesBorne(limit, full(at)),
    wanted,
    // By the instant in which least more is borne: not always that of the greatest force.
    reserve: Math.min(...drawn.map(reserveOf)),
  };
}

function rateBelt(given: Given, results: Results, b: Band, c: Belt): void {
  const no = (why: string): void => results.unrated(b.id, b.name, why);
  const toothed = b.limits.every((x) => x === Infinity);
  const width = Math.min(...b.wheels.map((w) => num(w.width)));
  const standard = toothed && c.strandLimit === undefined ? toothedBelt(num(b.wheels[0].pitch)) : undefined;
  if (c.strandLimit === undefined && !standard) {
    no(`its permissible strand force is not stated${toothed ? ', and its pitch is none of ISO 5296' : ''}`);
  }
  if (!toothed && !(num(c.pretension) > 0)) no('its pre-tension is not stated: no slip');
  const vee = b.wheels.some((w) => w.form === 'v');
  if (vee && c.ratedPower === undefined) no('the rated power of one belt is not stated');
  const { applicationFactor: KA } = given.wishes;
  eachCase(given, results, b, (drawn, loaded, take) => {
    const meshing = Math.min(...loaded.map((i) => Math.floor((num(b.wheels[i].teeth) * b.wraps[i]) / 360 + 1e-9)));
    const limit = standard && toothedLimit(standard, width, meshing);
    const allowed = c.strandLimit ?? limit?.force;
    const mass = c.massPerLength ?? limit?.mass;
    if (allowed !== undefined) {
      const { at, ...said } = strandLine(drawn, allowed, 1, mass);
      take('belt, strand force', {
        ...said,
        method: standard ? 'ISO 5295:1987, permissible tension' : 'Greatest strand force',
        figures: [
          applicationFigure(given.wishes),
          ...drawnFigures(at, mass),
          ...(limit
            ? [
                { symbol: 'b', label: 'Width', value: width, unit: 'mm' },
                { symbol: 'zm', label: 'Teeth in mesh', value: meshing },
                { symbol: 'Ta', label: 'Permissible tension of the base width', value: standard!.tension, unit: 'N' },
              ]
            : []),
          { symbol: 'Fzul', label: 'Permissible strand force', value: allowed, unit: 'N', ...(limit && { formula: 'Fzul = kz·(b/b0)^1.14·Ta' }) },
        ],
        assumptions: [
          standard ? `belt ${standard.code}, as wide as its narrowest pulley` : 'permissible force as stated',
          'the application factor raises what the load adds to the pre-tension',
          ...(mass === undefined ? ['the mass of the belt is not stated and is left out'] : []),
        ],
      });
    }
    if (!toothed && num(c.pretension) > 0) {
      const n = b.wheels.length;
      const slips = (d: Drawn): number => Math.min(...d.tensions.map((t, i) => slipReserve(t, d.tensions[(i + n - 1) % n], d.mean, b.limits[i])));
      const at = least(drawn, slips);
      const value = slips(at) / KA;
      take('belt, slip', {
        value,
        wanted: 1,
        reserve: value,
        method: 'Euler–Eytelwein',
        figures: [
          applicationFigure(given.wishes),
          ...drawnFigures(at, mass),
          { symbol: 'F0', label: 'Mean of the strands', value: at.mean, unit: 'N' },
          { symbol: 'm', label: 'Least ratio before slip', value: Math.min(...b.limits), formula: 'm = e^(μ·φ/sin(α/2))' },
          { symbol: 'μ', label: 'Friction coefficient', value: num(c.friction, 0.3) },
        ],
        assumptions: ['the pre-tension is the mean of the strands without the pull of their mass, and stays as the load grows'],
      });
    }
    if (vee && c.ratedPower !== undefined) {
      const at = least(drawn, (d) => -powerOf(d));
      const wrap = Math.min(...loaded.map((i) => b.wraps[i]));
      const count = c.belts ?? 1;
      const bears = count * c.ratedPower * wrapFactor(wrap);
      const value = timesBorne(bears, KA * powerOf(at));
      take('belt, power', {
        value,
        wanted: 1,
        reserve: value,
        method: 'Rated power and arc of contact (Shigley, Mechanical Engineering Design)',
        figures: [
          applicationFigure(given.wishes),
          ...drawnFigures(at, undefined),
          { symbol: 'P', label: 'Power', value: powerOf(at), unit: 'W', formula: 'P = (F1 − F2)·v' },
          { symbol: 'PR', label: 'Rated power of one belt', value: c.ratedPower, unit: 'W' },
          { symbol: 'k', label: 'Belts', value: count },
          { symbol: 'φ', label: 'Least wrap', value: wrap, unit: 'deg' },
          { symbol: 'K1', label: 'Factor of wrap', value: wrapFactor(wrap) },
        ],
        assumptions: ['rated power as stated, for the speed and the small pulley'],
      });
    }
  });
}

function rateChain(given: Given, results: Results, b: Band, c: Chain): void {
  const no = (why: string): void => results.unrated(b.id, b.name, why);
  const pitch = num(b.wheels[0].pitch);
  const standard = rollerChain(pitch);
  const strands = c.strands ?? 1;
  const breaks = c.breakingForce ?? standard?.breaks[strands - 1];
  const mass = c.massPerLength ?? (standard && standard.mass * strands);
  if (breaks === undefined) no('its breaking force is not stated, and ISO 606 has none for its pitch and strands');
  const { applicationFactor: KA } = given.wishes;
  const said =
    standard && c.breakingForce === undefined
      ? [`chain ${standard.code} of ISO 606, ${strands} ${strands > 1 ? 'strands' : 'strand'}`]
      : ['breaking force as stated'];
  eachCase(given, results, b, (drawn, loaded, take) => {
    if (breaks !== undefined) {
      const { at, ...rest } = strandLine(drawn, breaks, CHAIN_SAFETY, mass);
      take('chain, breaking', {
        ...rest,
        method: 'Breaking force',
        figures: [
          applicationFigure(given.wishes),
          ...drawnFigures(at, mass),
          { symbol: 'FB', label: 'Breaking force', value: breaks, unit: 'N' },
          { symbol: 'S', label: 'Safety', value: rest.value, formula: 'S = FB/(KA·F1 + FC)' },
        ],
        assumptions: [...said, `a safety of ${CHAIN_SAFETY} is common practice`, 'its sag is left out'],
      });
    }
    const teeth = num(smallest(b, loaded).teeth);
    const turns = (d: Drawn): number => (60_000 * d.speed) / (teeth * pitch);
    const bears = (d: Drawn): number => chainPower(teeth, turns(d), pitch, strands).power;
    const ratio = (d: Drawn): number => timesBorne(bears(d), KA * powerOf(d));
    const at = least(drawn, ratio);
    const value = ratio(at);
    take('chain, power', {
      value,
      wanted: 1,
      reserve: value,
      method: 'Rated power of roller chains (American Chain Association, in Shigley, Mechanical Engineering Design)',
      figures: [
        applicationFigure(given.wishes),
        ...drawnFigures(at, undefined),
        { symbol: 'z1', label: 'Teeth of the small sprocket', value: teeth },
        { symbol: 'n1', label: 'Its speed', value: turns(at), unit: 'rev/min' },
        { symbol: 'p', label: 'Pitch', value: pitch, unit: 'mm' },
        { symbol: 'P', label: 'Power', value: powerOf(at), unit: 'W', formula: 'P = (F1 − F2)·v' },
        { symbol: 'PR', label: 'Rated power', value: bears(at), unit: 'W' },
      ],
      assumptions: [
        `limited by its ${chainPower(teeth, turns(at), pitch).by}`,
        `for ${CHAIN_HOURS} h with lubrication as recommended; about 100 links; chains of series B bear as much`,
      ],
    });
  });
}
