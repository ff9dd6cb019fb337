import { type Worm, type WormWheel, num, wormOf, wormWheelRadius } from '../elements/index';
import type { Instant } from './instants';
import type { Figure } from './protocol';
import { type Given, type Results, applicationFigure, knownIn, timesBorne } from './rater';
import { type RatedWorm, slidingSpeed, wormBending, wormCapacity, wormForm } from './worm';

const DEG = 180 / Math.PI;

/** Worm wheels of bronze: wear and pitting by AGMA 6034, bending of their teeth by Buckingham. */
export function rateWorms({ compiled, cases, wishes }: Given, results: Results): void {
  for (const { coupling: c } of compiled.couplings) {
    if (c.type !== 'worm-drive') continue;
    const element = (id: string | undefined): unknown => compiled.design.elements.find((e) => e.id === id);
    const [worm, wheel] = [element(c.a) as Worm | undefined, element(c.b) as WormWheel | undefined];
    if (!worm || !wheel) continue;
    const name = c.name ?? c.id;
    const no = (why: string): void => results.unrated(c.id, name, why);
    if (wheel.bronze === undefined) {
      no('the bronze of its wheel is not stated');
      continue;
    }
    const w = wormOf(worm);
    const radius = wormWheelRadius(wheel);
    const rated: RatedWorm = {
      bronze: wheel.bronze,
      wormDiameter: w.diameter,
      wheelDiameter: 2 * radius,
      width: num(wheel.width),
      ratio: num(wheel.teeth) / w.starts,
    };
    const form = wormForm(w.alpha * DEG);
    if (wheel.bendingLimit === undefined) no('the permissible bending stress of its wheel is not stated');
    else if (form === undefined) no(`no source has a form factor for a pressure angle of ${(w.alpha * DEG).toFixed(1)}°`);
    const read = (i: Instant): { force: number; sliding: number } => {
      const line = i.coupling(c.id);
      return { force: (Math.abs(line?.loads[1] ?? NaN) * 1e3) / radius, sliding: slidingSpeed(w.diameter, w.leadAngle, line?.speeds[0] ?? NaN) };
    };
    for (const [given, loads] of knownIn(cases, no, read)) {
      const KA = wishes.applicationFactor;
      let bears: { value: number; at: (typeof loads)[number]; is: ReturnType<typeof wormCapacity> } | undefined;
      try {
        for (const at of loads) {
          const is = wormCapacity(rated, at.sliding);
          const value = timesBorne(is.force, KA * at.force);
          if (!bears || value < bears.value) bears = { value, at, is };
        }
      } catch (e) {
        if (!(e instanceof RangeError)) throw e;
        no(e.message);
        break;
      }
      const run = given.run ? ['the worst instant of the run'] : [];
      const base = { item: c.id, element: wheel.id, name: `${wheel.name}, ${name}`, case: given.name };
      const force = (of: number): Figure[] => [applicationFigure(wishes), { symbol: 'Wt', label: 'Tangential force', value: of, unit: 'N' }];
      if (bears) {
        const { at, is, value } = bears;
        results.line(`${c.id} wear`, {
          ...base,
          what: 'worm wheel, wear',
          value,
          wanted: 1,
          reserve: value,
          method: 'AGMA 6034-B92',
          figures: [
            ...force(at.force),
            { symbol: 'vs', label: 'Sliding speed', value: 1e3 * at.sliding, unit: 'mm/s', formula: 'vs = π·d1·n/cos γ' },
            { symbol: 'Cs', label: 'Materials factor', value: is.material },
            { symbol: 'Cm', label: 'Ratio factor', value: is.ratio },
            { symbol: 'Cv', label: 'Speed factor', value: is.speed },
            { symbol: 'Fe', label: 'Face width that counts', value: is.width, unit: 'mm', formula: 'Fe = min(b2, 0.67·d1)' },
            { symbol: 'Wzul', label: 'Rated tangential load', value: is.force, unit: 'N', formula: 'Cs·D^0.8·Fe·Cm·Cv (in, lbf)' },
          ],
          assumptions: [
            `wheel of ${rated.bronze}; worm of steel, case-hardened to 58 HRC and ground`,
            'nominal life 25 000 h, with lubrication as the standard asks for',
            ...run,
          ],
        });
      }
      const most = Math.max(...loads.map((l) => l.force));
      if (form === undefined || wheel.bendingLimit === undefined) continue;
      const width = Math.min(rated.width, 0.67 * w.diameter);
      const pitch = Math.PI * w.module * Math.cos(w.leadAngle);
      const stress = wormBending(KA * most, pitch, width, form);
      const value = timesBorne(wheel.bendingLimit, stress);
      results.line(`${c.id} bending`, {
        ...base,
        what: 'worm wheel, bending',
        value,
        wanted: 1,
        reserve: value,
        method: 'Buckingham, in Shigley, Mechanical Engineering Design',
        figures: [
          ...force(most),
          { symbol: 'pn', label: 'Normal pitch', value: pitch, unit: 'mm' },
          { symbol: 'Fe', label: 'Face width that counts', value: width, unit: 'mm' },
          { symbol: 'y', label: 'Form factor', value: form },
          { symbol: 'σ', label: 'Bending stress', value: stress, unit: 'MPa', formula: 'σ = KA·Wt/(pn·Fe·y)' },
          { symbol: 'σzul', label: 'Permissible bending stress', value: wheel.bendingLimit, unit: 'MPa' },
        ],
        assumptions: ['one tooth carries all', ...run],
      });
    }
  }
}
