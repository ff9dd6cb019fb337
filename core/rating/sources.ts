import type { DrivingSource } from '../document/kinds';
import { num } from '../elements/index';
import { motionUnit } from '../units/index';
import type { Instant } from './instants';
import { type MotorStep, energyOf, limitOf, risesIn, rootMeanSquare, startsIn, warmestTorque } from './motor';
import type { Figure, RatingLine } from './protocol';
import { type Given, type Results, knownIn, timesBorne } from './rater';

/** What is slower than this part of the fastest rests. */
const RESTS = 1e-3;
/** What is less than this part of what it came from is rounding. */
const ROUNDING = 1e-9;

/** The inertia that a motor feels beside its rotor's, against the stated ratio. */
function rateInertia(cases: Given['cases'], results: Results, s: DrivingSource, slide: boolean): void {
  if (s.mostInertiaRatio === undefined) return;
  const rotor = num(s.rotor);
  if (!(rotor > 0)) return results.unrated(s.id, s.name, 'the inertia of its rotor is not stated: no inertia ratio');
  for (const c of cases) {
    const all = c.inertia(s.id);
    if (all === undefined) {
      results.unrated(s.id, s.name, 'the inertia that it feels is not known: the train has other freedoms, or something is taken along');
      continue;
    }
    // Its own rotor is in it: what is left beside that by rounding is nothing, and less than that cannot be.
    const own = all - rotor;
    if (own < -ROUNDING * rotor) throw new Error(`“${s.name}” feels ${all}, less than its rotor’s ${rotor}`);
    const load = own < ROUNDING * rotor ? 0 : own;
    const ratio = load / rotor;
    const value = timesBorne(s.mostInertiaRatio, ratio);
    const unit = slide ? 'kg' : 'kg·m²';
    results.line(`${s.id} inertia`, {
      item: s.id,
      name: s.name,
      case: c.name,
      what: 'source, inertia',
      value,
      wanted: 1,
      reserve: value,
      method: 'Inertia of the train over that of the rotor',
      figures: [
        { symbol: 'JL', label: 'Inertia that it feels, without its rotor', value: load, unit },
        { symbol: 'JM', label: 'Inertia of its rotor', value: rotor, unit },
        { symbol: 'JL/JM', label: 'Inertia ratio', value: ratio },
        { symbol: 'k', label: 'Times its ratio at which the load accelerates most', value: Math.sqrt(ratio), formula: 'k = √(JL/JM)' },
      ],
      assumptions: [c.run ? 'the greatest over the run' : 'at the position of the load case', 'k for inertia alone, without friction and load'],
    });
  }
}

/** Sources: the greatest torque that they are asked for, and how warm a motor gets. */
export function rateSources({ compiled, cases }: Given, results: Results): void {
  for (const { source, coordinate } of compiled.sources) {
    const s: DrivingSource = source;
    const slide = compiled.structure.coordinates[coordinate].motion === 'slide';
    const { effort, speed, speedsPerSi } = motionUnit(slide);
    const no = (why: string): void => results.unrated(s.id, s.name, why);
    if (s.type === 'motor' && s.ratedTorque === undefined) no('its rated torque is not stated: no warming');
    const limited = s.mostTorque !== undefined || !!s.torqueLimits?.length;
    if (s.type === 'motor' && !limited) no('its torque limit is not stated');
    if (!risesIn(s.torqueLimits ?? [])) {
      no('the speeds of its torque limit must rise from row to row');
      continue;
    }
    rateInertia(cases, results, s, slide);
    if (s.mostStarts !== undefined && !cases.some((c) => c.run)) no('its starts per hour need a saved run, which is repeated');
    // A run in which it lets go asks nothing of it.
    const asked = cases.filter((c) => c.instants.some((i) => i.source(s.id)));
    const read = (i: Instant): MotorStep => ({ part: i.part, load: i.source(s.id)?.load ?? NaN, speed: i.source(s.id)?.speed ?? NaN });
    for (const [c, steps] of knownIn(asked, no, read)) {
      const most = steps.reduce((a, b) => (Math.abs(b.load) > Math.abs(a.load) ? b : a));
      const figures: Figure[] = [
        { symbol: 'Tmax', label: 'Greatest', value: Math.abs(most.load), unit: effort },
        { symbol: 'n', label: 'Speed there', value: Math.abs(most.speed), unit: speed },
      ];
      const take = (what: RatingLine['what'], said: Omit<RatingLine, 'item' | 'name' | 'case' | 'what' | 'wanted'>): void =>
        results.line(`${s.id} ${what}`, { item: s.id, name: s.name, case: c.name, what, wanted: 1, ...said });
      const run = c.run ? ['the run is repeated without end'] : ['the load case lasts'];
      if (limited) {
        const reserveOf = (x: MotorStep): number => timesBorne(limitOf(s, x.speed)!, Math.abs(x.load));
        const nearest = steps.reduce((a, b) => (reserveOf(b) < reserveOf(a) ? b : a));
        const value = reserveOf(nearest);
        take('source, torque', {
          value,
          reserve: value,
          method: s.torqueLimits?.length ? 'Torque or force against the limit at its speed' : 'Greatest torque or force against the limit',
          figures: [
            { symbol: 'T', label: 'Nearest to the limit', value: Math.abs(nearest.load), unit: effort },
            { symbol: 'n', label: 'Speed there', value: Math.abs(nearest.speed), unit: speed },
            { symbol: 'Tlim', label: 'Limit', value: limitOf(s, nearest.speed)!, unit: effort },
          ],
          assumptions: ['without the application factor: it stands for shocks in the gears'],
        });
      }
      if (s.mostStarts !== undefined && c.run) {
        const fastest = steps.reduce((m, x) => Math.max(m, Math.abs(x.speed)), 0);
        const starts = (startsIn(steps, RESTS * fastest) * 3600) / c.lasts;
        const value = timesBorne(s.mostStarts, starts);
        take('source, starts', {
          value,
          reserve: value,
          method: 'Starts per hour against the limit',
          figures: [
            { symbol: 'Z', label: 'Starts per hour', value: starts },
            { symbol: 'Zlim', label: 'Limit', value: s.mostStarts },
          ],
          assumptions: run,
        });
      }
      if (s.ratedTorque === undefined) continue;
      const rms = rootMeanSquare(steps);
      const timed = c.run && s.thermalTime !== undefined;
      const warmest = timed ? warmestTorque(steps, c.lasts, s.thermalTime!) : rms;
      const value = timesBorne(s.ratedTorque, warmest);
      const energy = c.run ? energyOf(steps, c.lasts, 1 / speedsPerSi) : undefined;
      take('source, warming', {
        value,
        reserve: value,
        method: timed ? 'Thermal model of one time constant' : 'Root mean square of the torque or force',
        figures: [
          ...figures,
          { symbol: 'Trms', label: 'Root mean square', value: rms, unit: effort, formula: 'Trms = √(Σ Ti²·ti / Σ ti)' },
          ...(timed
            ? [
                { symbol: 'τ', label: 'Thermal time constant', value: s.thermalTime!, unit: 's' },
                { symbol: 'Tw', label: 'What warms it as much, held', value: warmest, unit: effort, formula: 'θ′ = (T² − θ)/τ, Tw = √θmax' },
              ]
            : []),
          { symbol: 'TN', label: 'Rated', value: s.ratedTorque, unit: effort },
          ...(energy
            ? [
                { symbol: 'W+', label: 'Energy that it gives in a cycle', value: energy.given, unit: 'J' },
                { symbol: 'W−', label: 'Energy that comes back in braking', value: energy.taken, unit: 'J' },
              ]
            : []),
        ],
        assumptions: [...run, 'losses go by the square of the torque; cooling does not depend on the speed'],
      });
    }
  }
}
