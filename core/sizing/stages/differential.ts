import { moduleField } from '../../fields/fields';
import { vadd, vscale } from '../../math/index';
import { GAP, StageBuilder } from './builder';
import type { StageKind } from './protocol';
import { teeth } from './sizes';

export const differential: StageKind = {
  kind: 'differential',
  label: 'Differential',
  does: 'turn to the sum of two turns',
  fields: [teeth('z', 'Teeth of each bevel', 20, 6, 500), moduleField('Outer module', 'me', { initial: 3 })],
  build(b: StageBuilder): void {
    const f = b.frameOf(b.from);
    const m = b.n('module'),
      z = b.n('z');
    const width = Number(Math.min((m * z) / 2 / Math.SQRT1_2 / 3, 10 * m).toPrecision(4));
    const reach = Math.ceil((m * z) / 2 + 2 * m + GAP);
    const place = b.next(b.from, 0) + 2 * reach;
    const o = vadd(f.o, vscale(f.z, place));
    const base = b.carrier;
    const g = { teeth: z, module: b.exact('module'), coneAngle: 45, width };
    const left = b.shaft('Side shaft', o, vscale(f.z, -1), f.x, base);
    const right = b.shaft('Side shaft', o, f.z, f.x, base);
    const pin = b.member('Differential planet', 'shaft', o, f.x, f.z);
    b.joint('revolute', b.from, pin);
    const gl = b.element('bevel-gear', left, 'Side wheel', g),
      gr = b.element('bevel-gear', right, 'Side wheel', g),
      gp = b.element('bevel-gear', pin, 'Planet wheel', g);
    b.couple('bevel-pair', 'Differential, one side', { a: gl, b: gp });
    b.couple('bevel-pair', 'Differential, other side', { a: gr, b: gp });
    b.output = right;
  },
};
