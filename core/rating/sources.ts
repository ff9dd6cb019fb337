import type { DrivingSource } from '../document/kinds';
import { motionUnit } from '../units/index';
import type { Instant } from './instants';
import { type MotorStep, energyOf, rootMeanSquare, warmestTorque } from './motor';
import type { Figure, RatingLine } from './protocol';
import { type Given, type Results, knownIn, timesBorne } from './rater';

/** Sources: the greatest torque that they are asked for, and how warm a motor gets. */
export function rateSources({ compiled, cases }: Given, results: Results): void {
  for (const { source, coordinate } of compiled.sources) {
    const s: DrivingSource = source;
    const slide = compiled.structure.coordinates[coordinate].motion === 'slide';
    const { effort, speed, speedsPerSi } = motionUnit(slide);
    const no = (why: string): void => results.unrated(s.id, s.name, why);
    if (s.type === 'motor' && s.ratedTorque === undefined) no('its rated torque is not stated: no warming');
    if (s.type === 'motor' && s.mostTorque === undefined) no('its torque limit is not stated');
    if (s.ratedTorque === undefined && s.mostTorque === undefined) continue;
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
      if (s.mostTorque !== undefined) {
        const value = timesBorne(s.mostTorque, Math.abs(most.load));
        take('source, torque', {
          value,
          reserve: value,
          method: 'Greatest torque or force against the limit',
          figures: [...figures, { symbol: 'Tlim', label: 'Limit', value: s.mostTorque, unit: effort }],
          assumptions: ['without the application factor: it stands for shocks in the gears'],
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
