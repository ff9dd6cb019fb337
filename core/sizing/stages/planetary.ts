import { num } from '../../elements/index';
import { choiceField, wholeField } from '../../fields/fields';
import { FRAME, type Id } from '../../fields/types';
import { type Vec3, toLocalPoint, vadd, vscale } from '../../math/index';
import { tidy } from '../edits';
import { choicesNear, mostPlanets } from '../planetary';
import { StageBuilder, placeOn } from './builder';
import type { StageKind, StageProblem } from './protocol';
import type { Values } from './values';
import { MODULE, WIDTH, teeth } from './sizes';

export const planetary: StageKind = {
  kind: 'planetary',
  label: 'Planetary set',
  does: 'turn to turn on one axis',
  ratio: 'turns',
  fields: [
    teeth('sun', 'Teeth of the sun', 24, 8),
    teeth('planet', 'Teeth of a planet', 30, 8),
    wholeField('planets', 'Planets', { initial: 3, min: 1, max: 8 }),
    choiceField('held', 'Held', ['ring', 'sun', 'carrier'], {
      initial: 'ring',
      help: 'With the sun held, the ring is driven; with the ring or the carrier held, the sun.',
    }),
    MODULE,
    WIDTH,
  ],
  forRatio: (ratio: number, v: Values): Record<string, number> => {
    const n = num(v['planets'] as number, 3);
    const held = v['held'];
    // Ring held: 1 + zr/zs; sun held: 1 + zs/zr; carrier held: zr/zs.
    const q = held === 'sun' ? 1 / Math.max(1e-3, ratio - 1) : held === 'carrier' ? ratio : ratio - 1;
    const sun = 24;
    const near = choicesNear(sun, Math.max(sun + 16, 2 * Math.round((sun * Math.min(12, Math.max(1.5, q))) / 2)), n, 1)[0];
    return near ? { sun: near.sun, planet: near.planet } : ({} as Record<string, number>);
  },
  build(b: StageBuilder): void {
    const f = b.frameOf(b.from);
    const m = b.n('module'),
      w = b.n('width'),
      zs = b.n('sun'),
      zp = b.n('planet'),
      zr = zs + 2 * zp,
      held = b.text('held');
    const z = b.next(b.from, w);
    const o = vadd(f.o, vscale(f.z, z));
    const base = b.carrier;
    const local = (member: Id): Vec3 => (member === b.from ? [0, 0, z] : tidy(toLocalPoint(b.frameOf(member), o)));
    const onFrame = (member: Id): Record<string, unknown> =>
      member === FRAME
        ? { at: tidy(o), axis: tidy(f.z), up: tidy(f.x) }
        : { at: local(member), ...(member === b.from ? {} : placeOn(b.frameOf(member), f)) };
    const carrier = held === 'carrier' ? base : b.member('Planet carrier', 'carrier', o, f.z, f.x);
    if (held !== 'carrier') b.joint('revolute', base, carrier);
    const sunOn = held === 'sun' ? base : b.from;
    let ringOn = held === 'ring' ? base : b.from;
    if (held === 'carrier') ringOn = b.shaft('Ring shaft', o, f.z, f.x, base);
    const s = b.element('gear', sunOn, 'Sun', { teeth: zs, module: b.exact('module'), width: w, ...onFrame(sunOn) });
    const r = b.element('gear', ringOn, 'Ring', {
      teeth: zr,
      module: b.exact('module'),
      width: w,
      internal: true,
      rim: Math.round(m * (zr + 8)),
      ...onFrame(ringOn),
    });
    for (let k = 0; k < b.n('planets'); k++) {
      const a = (2 * Math.PI * k) / b.n('planets');
      const p = vadd(o, vadd(vscale(f.x, ((m * (zs + zp)) / 2) * Math.cos(a)), vscale(f.y, ((m * (zs + zp)) / 2) * Math.sin(a))));
      const pin = b.shaft('Planet', p, f.z, f.x, carrier);
      const g = b.element('gear', pin, 'Planet wheel', { teeth: zp, module: b.exact('module'), width: w });
      b.couple('gear-pair', 'Sun mesh', { a: s, b: g });
      b.couple('gear-pair', 'Ring mesh', { a: g, b: r });
    }
    b.output = held === 'carrier' ? ringOn : carrier;
  },
  problem(values: Values): StageProblem | undefined {
    const sun = num(values['sun'] as number),
      planet = num(values['planet'] as number),
      n = num(values['planets'] as number),
      ring = sun + 2 * planet;
    const near = choicesNear(sun, ring, n).map((c) => ({ sun: c.sun, planet: c.planet }));
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
