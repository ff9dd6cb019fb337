import { numberField } from '../../fields/fields';
import { type Vec3, cross, dot, toLocalPoint, vadd, vscale } from '../../math/index';
import { ISO_54 } from '../catalogue';
import { tidy } from '../../edits/frames';
import { StageBuilder, perpendicular } from './builder';
import type { StageKind } from './protocol';
import type { Values } from './values';
import { ANGLE, MODULE, MOVES, WIDTH, size, teeth } from './sizes';

/** Modules to go down by where a travel asks for a smaller pinion, largest first. */
const SMALLER = [...ISO_54, 0.8, 0.6, 0.5, 0.4, 0.3, 0.25, 0.2].sort((a, b) => b - a);

export const rack: StageKind = {
  kind: 'rack',
  label: 'Rack and pinion',
  does: 'turn to travel',
  ratio: 'travel',
  fields: [
    teeth('z1', 'Teeth of the pinion', 20),
    teeth('z2', 'Teeth of the rack', 60, 4),
    MODULE,
    WIDTH,
    numberField('height', 'Body height of the rack', { unit: 'mm', initial: 16, above: 0, max: 1e5 }),
    ANGLE,
    MOVES('pinion', 'rack'),
  ],
  forRatio: (travel: number, v: Values): Values => {
    const z = (m: number): number => Math.min(2000, Math.round(travel / (Math.PI * m)));
    const asked = size(v, 'module', 2);
    const m = z(asked) >= 14 ? asked : (SMALLER.find((x) => x < asked && z(x) >= 14) ?? 0.2);
    return { module: m, z1: Math.max(12, z(m)) };
  },
  gives: (v) => Math.PI * size(v, 'module') * size(v, 'z1'),
  bounds: 'a pinion has whole teeth, 12 or more, of a standard module',
  build(b: StageBuilder): void {
    const f = b.frameOf(b.from),
      m = b.n('module'),
      w = b.n('width');
    const z = b.next(b.from, w);
    const [d, along] = perpendicular(f, b);
    const o = vadd(vadd(f.o, vscale(f.z, z)), vscale(d, (m * b.n('z1')) / 2));
    const rides = b.text('moves') === 'pinion';
    const { carriage, under } = rides ? b.carriage('Carriage', f.o, along, d) : { carriage: undefined, under: undefined };
    const out = carriage ?? b.slide('Rack slide', o, along, d);
    // The slide's z runs along the travel, its x away from the pinion.
    // The rack's x is the travel, its teeth point back to the pinion.
    const g1 = b.element('gear', b.from, 'Rack pinion', { teeth: b.n('z1'), module: b.exact('module'), width: w + 2, at: [0, 0, z] });
    const own = b.frameOf(under ?? out);
    const yAxis = vscale(d, -1),
      zAxis = cross(along, yAxis);
    const local = (v: Vec3): Vec3 => tidy([dot(own.x, v), dot(own.y, v), dot(own.z, v)]);
    const g2 = b.element('rack', under ?? out, 'Rack', {
      teeth: b.n('z2'),
      module: b.exact('module'),
      width: w,
      height: Math.max(b.n('height'), 2.6 * m),
      at: under ? tidy(toLocalPoint(own, o)) : [0, 0, 0],
      axis: local(zAxis),
      up: local(along),
    });
    b.couple('rack-mesh', 'Rack mesh', { a: g1, b: g2 });
    b.output = out;
  },
};
