import { exactField, numberField } from '../../fields/fields';
import { type Vec3, cross, dot, toLocalPoint, vadd, vscale } from '../../math/index';
import { tidy } from '../../edits/frames';
import { StageBuilder, perpendicular } from './builder';
import type { StageKind } from './protocol';
import { ANGLE, MOVES, WIDTH, size } from './sizes';
import type { Values } from './values';

export const rolling: StageKind = {
  kind: 'rolling',
  label: 'Rolling wheel',
  does: 'turn to travel without teeth',
  ratio: 'travel',
  fields: [
    exactField('diameter', 'Rolling diameter', { unit: 'mm', symbol: 'd', initial: 100, above: 0, max: 1e5 }),
    numberField('length', 'Length of the track', { unit: 'mm', initial: 600, above: 0, max: 1e6 }),
    { ...WIDTH, label: 'Width', initial: 20 },
    ANGLE,
    MOVES('wheel', 'track'),
  ],
  forRatio: (travel: number): Values => ({ diameter: Number(Math.min(1e5, travel / Math.PI).toPrecision(10)) }),
  gives: (v) => Math.PI * size(v, 'diameter'),
  bounds: 'a wheel has at most 100 m of diameter',
  build(b: StageBuilder): void {
    const f = b.frameOf(b.from),
      w = b.n('width'),
      r = b.n('diameter') / 2;
    const z = b.next(b.from, w);
    const [d, along] = perpendicular(f, b);
    const o = vadd(vadd(f.o, vscale(f.z, z)), vscale(d, r));
    const rides = b.text('moves') === 'wheel';
    const { carriage, under } = rides ? b.carriage('Carriage', f.o, along, d) : { carriage: undefined, under: undefined };
    const out = carriage ?? b.slide('Track slide', o, along, d);
    const own = b.frameOf(under ?? out);
    const local = (v: Vec3): Vec3 => tidy([dot(own.x, v), dot(own.y, v), dot(own.z, v)]);
    const wheel = b.element('wheel', b.from, 'Wheel', { diameter: b.exact('diameter'), width: w, at: [0, 0, z] });
    const track = b.element('track', under ?? out, 'Track', {
      length: b.n('length'),
      width: w + 4,
      height: Math.max(8, b.neat(0.1 * r)),
      at: under ? tidy(toLocalPoint(own, o)) : [0, 0, 0],
      axis: local(cross(along, vscale(d, -1))),
      up: local(along),
    });
    b.couple('rolling', 'Rolling contact', { a: wheel, b: track });
    b.output = out;
  },
};
